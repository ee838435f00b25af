const UNITS: [RegExp, number][] = [
  [/^s(ec(onds?)?)?$/, 1],
  [/^m(in(utes?)?)?$/, 60],
  [/^h(ours?)?$/, 3600],
  [/^d(ays?)?$/, 86_400],
  [/^w(eeks?)?$/, 7 * 86_400],
  [/^y(ears?)?$/, 365 * 86_400],
];

/**
 * An amount of time as people write it, in seconds: `1:02` is hours and minutes, `1:02:30` with seconds, `3 days`,
 * `2 h 15 min`, a minus before all of it. A year has 365 days. Null when it cannot be read.
 */
export function readAmount(typed: string): number | null {
  const text = typed.trim().toLowerCase().replace(/^[−–]/, '-');
  const sign = text.startsWith('-') ? -1 : 1;
  const rest = text.replace(/^[-+]\s*/, '');
  const clock = rest.match(/^(\d{1,4}):([0-5]\d)(?::([0-5]\d))?$/);
  if (clock) return sign * (Number(clock[1]) * 3600 + Number(clock[2]) * 60 + Number(clock[3] ?? 0));
  const parts = [...rest.matchAll(/(\d+(?:\.\d+)?)\s*([a-z]+)/g)];
  if (parts.length === 0 || rest.replace(/(\d+(?:\.\d+)?)\s*([a-z]+)|,|\band\b|\s/g, '') !== '') return null;
  let seconds = 0;
  for (const [, n, word] of parts) {
    const unit = UNITS.find(([name]) => name.test(word!))?.[1];
    if (!unit) return null;
    seconds += Number(n) * unit;
  }
  return sign * Math.round(seconds);
}

/** Minutes east of Greenwich from `+2`, `-3:30`, `5.5`; null outside -12 to +14 hours. */
export function readZone(typed: string): number | null {
  const m = typed
    .trim()
    .replace(/^[−–]/, '-')
    .match(/^([+-]?)(\d{1,2})(?::([0-5]\d)|\.(\d{1,2}))?$/);
  if (!m) return null;
  const minutes = Number(m[2]) * 60 + Number(m[3] ?? 0) + Math.round(60 * Number(`0.${m[4] ?? 0}`));
  const signed = m[1] === '-' ? -minutes : minutes;
  return signed < -720 || signed > 840 ? null : signed;
}
