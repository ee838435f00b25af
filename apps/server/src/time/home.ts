/** The zone this household lives in, for instants nothing else places. */
export const HOME = Intl.DateTimeFormat().resolvedOptions().timeZone;
