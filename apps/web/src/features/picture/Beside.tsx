import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, t } from '@lingui/core/macro';
import type { Picture } from '@gemmel/contract';
import { View } from 'react-native';
import { besideOf } from '@/api/client';
import { sayBytes, sayClock } from '@/ui/say';
import { Words } from '@/ui/Words';
import { SIZE } from '@/ui/tokens';

const ROLES: Record<Picture['beside'][number]['role'], MessageDescriptor> = {
  main: msg`The picture`,
  raw: msg`The raw file`,
  clip: msg`The moving part`,
  before: msg`Before it was edited`,
  notes: msg`Notes of its device`,
  said: msg`What was written elsewhere`,
};

/** The files that are kept beside a picture: one picture, all its files. */
export function Beside({ picture }: { picture: Pick<Picture, 'id' | 'beside'> }) {
  return (
    <View>
      {picture.beside.map((file) => (
        <a
          key={file.id}
          href={`${besideOf(picture.id, file.id)}?save`}
          download={file.name}
          aria-label={t`Save ${file.name}`}
          style={{ minHeight: SIZE.touch, display: 'flex', alignItems: 'center' }}
        >
          <Words kind="small">
            <Words kind="small" className="font-semi text-juniper">
              {file.name}
            </Words>
            {` · ${i18n._(ROLES[file.role])}, ${file.seconds ? `${sayClock(file.seconds)}, ` : ''}${sayBytes(file.bytes)}`}
          </Words>
        </a>
      ))}
    </View>
  );
}
