import { t } from '@lingui/core/macro';
import { forwardRef, useId } from 'react';
import { TextInput, View, type TextInputProps } from 'react-native';
import { Words } from './Words';
import { CORNER, SIZE } from './tokens';

interface Props extends TextInputProps {
  label: string;
  /** Shows the label above; without, only screen readers are told. */
  shown?: boolean;
  className?: string;
}

/** A line to write on, with its label. */
export const Field = forwardRef<TextInput, Props>(function Field(
  { label, shown = true, className = '', ...rest },
  ref,
) {
  const id = useId();
  return (
    <View className="gap-1.5">
      {shown ? (
        <label htmlFor={id}>
          <Words kind="small">{label}</Words>
        </label>
      ) : null}
      <TextInput
        ref={ref}
        id={id}
        aria-label={shown ? undefined : label}
        className={`min-h-button rounded-act border border-line bg-card px-4 py-2.5 font-sans text-body text-ink ${className}`}
        {...rest}
      />
    </View>
  );
});

/** A day from the calendar, as `YYYY-MM-DD`, or a day with a time. Empty is null. */
export function DayField({
  label,
  value,
  onChange,
  min,
  time = false,
}: {
  label: string;
  value: string | null;
  onChange: (value: string | null) => void;
  min?: string;
  time?: boolean;
}) {
  return (
    <label style={{ display: 'flex', flexDirection: 'column', gap: 6 }}>
      <Words kind="small">{label}</Words>
      <input
        type={time ? 'datetime-local' : 'date'}
        step={time ? 1 : undefined}
        value={value ?? ''}
        min={min}
        onChange={(event) => onChange(event.target.value || null)}
        style={{
          minHeight: SIZE.button,
          borderRadius: CORNER.act,
          border: '1px solid rgb(var(--line))',
          background: 'rgb(var(--card))',
          padding: '8px 14px',
        }}
      />
    </label>
  );
}

/** The first and the last of some days, side by side. */
export function SpanFields({
  from,
  to,
  onFrom,
  onTo,
}: {
  from: string | null;
  to: string | null;
  onFrom: (day: string | null) => void;
  onTo: (day: string | null) => void;
}) {
  return (
    <View className="flex-row gap-3">
      <View className="min-w-0 flex-1">
        <DayField label={t`First day`} value={from} onChange={onFrom} />
      </View>
      <View className="min-w-0 flex-1">
        <DayField label={t`Last day`} value={to} onChange={onTo} />
      </View>
    </View>
  );
}
