import { t } from '@lingui/core/macro';
import type { FaceMark } from '@gemmel/contract';
import { TYPE } from '@/ui/tokens';

interface Box {
  left: number;
  top: number;
  width: number;
  height: number;
}

const LABEL = 24;
const GAP = 4;

const shared = (a: Box, b: Box): number =>
  Math.max(0, Math.min(a.left + a.width, b.left + b.width) - Math.max(a.left, b.left)) *
  Math.max(0, Math.min(a.top + a.height, b.top + b.height) - Math.max(a.top, b.top));

/** What stands at a face: a first name, a guess with a question mark, or the mark alone. */
export const shortName = (face: FaceMark): string => {
  if (face.person) return face.person.name.split(' ')[0]!;
  if (face.state === 'passer-by') return t`Passer-by`;
  return face.likely ? `${face.likely.name.split(' ')[0]}?` : '?';
};

/**
 * Where ovals and their names go: each name below its face, or above it where it would cover another face or name.
 * Sizes in pixels of the picture as it is shown.
 */
export function placed(
  faces: readonly FaceMark[],
  box: { width: number; height: number },
): { face: FaceMark; name: string; oval: Box; label: Box }[] {
  const ovals = faces.map(({ box: [x, y, w, h] }): Box => {
    const width = Math.max(28, w * box.width * 1.25);
    const height = Math.max(34, h * box.height * 1.3);
    return { left: (x + w / 2) * box.width - width / 2, top: (y + h / 2) * box.height - height / 2, width, height };
  });
  const labels: Box[] = [];
  return faces.map((face, i) => {
    const oval = ovals[i]!;
    const name = shortName(face);
    const width = 18 + 7.6 * name.length;
    const left = Math.max(0, Math.min(box.width - width, oval.left + oval.width / 2 - width / 2));
    const others = ovals.filter((_, j) => j !== i);
    const cost = (label: Box) =>
      [...others, ...labels].reduce((sum, other) => sum + shared(label, other), 0) +
      (label.top < 0 || label.top + LABEL > box.height ? 1e4 : 0);
    const [label] = [oval.top + oval.height + GAP, oval.top - GAP - LABEL]
      .map((top): Box => ({ left, top, width, height: LABEL }))
      .sort((a, b) => cost(a) - cost(b));
    labels.push(label!);
    return { face, name, oval, label: label! };
  });
}

/** Soft ovals round the faces of a picture, with their names beside them. */
export function FaceOvals({
  faces,
  box,
  onFace,
}: {
  faces: readonly FaceMark[];
  box: { width: number; height: number };
  onFace: (face: FaceMark) => void;
}) {
  return (
    <>
      {placed(faces, box).map(({ face, name, oval, label }) => (
        <button
          key={face.id}
          type="button"
          onClick={() => onFace(face)}
          aria-label={
            face.person?.name ??
            (face.likely ? t`Probably ${face.likely.name}` : face.state === 'passer-by' ? name : t`Whose face?`)
          }
          title={face.person?.name ?? (face.likely ? t`Probably ${face.likely.name}` : undefined)}
          style={{
            position: 'absolute',
            ...oval,
            borderRadius: '50%',
            border: `2px ${face.person ? 'solid' : 'dashed'} #fffbf3`,
            boxShadow: '0 0 0 1.5px rgb(11 16 15 / 0.55), inset 0 0 0 1.5px rgb(11 16 15 / 0.4)',
            background: 'transparent',
            cursor: 'pointer',
            padding: 0,
          }}
        >
          <span
            style={{
              position: 'absolute',
              left: label.left - oval.left - 2,
              top: label.top - oval.top - 2,
              width: label.width,
              height: LABEL,
              lineHeight: `${LABEL}px`,
              textAlign: 'center',
              whiteSpace: 'nowrap',
              background: 'rgb(11 16 15 / 0.82)',
              color: '#fffbf3',
              borderRadius: 9,
              fontSize: TYPE.tiny,
              fontFamily: 'Figtree_500Medium',
            }}
          >
            {name}
          </span>
        </button>
      ))}
    </>
  );
}
