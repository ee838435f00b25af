import { t } from '@lingui/core/macro';
import type { TextInputProps } from 'react-native';
import { Field } from '@/ui/Field';

type Props = Pick<TextInputProps, 'value' | 'onChangeText' | 'onSubmitEditing'> & { label?: string };

/** An e-mail address of whoever is at the page. */
export const EmailField = ({ label, ...rest }: Props) => (
  <Field label={label ?? t`E-mail address`} autoComplete="email" inputMode="email" autoCapitalize="none" {...rest} />
);

/** A password that is chosen now; browsers offer to make and keep one. */
export const NewPasswordField = ({ label, ...rest }: Props) => (
  <Field label={label ?? t`Password (at least ten characters)`} autoComplete="new-password" secureTextEntry {...rest} />
);

/** The password somebody has. */
export const PasswordField = ({ label, ...rest }: Props) => (
  <Field label={label ?? t`Password`} autoComplete="current-password" secureTextEntry {...rest} />
);
