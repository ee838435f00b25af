const long = new Intl.DateTimeFormat('en-GB', {
  weekday: 'long',
  day: 'numeric',
  month: 'long',
  year: 'numeric',
  timeZone: 'UTC',
});
const noYear = new Intl.DateTimeFormat('en-GB', { weekday: 'long', day: 'numeric', month: 'long', timeZone: 'UTC' });
const monthYear = new Intl.DateTimeFormat('en-GB', { month: 'long', year: 'numeric', timeZone: 'UTC' });
const clock = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit', timeZone: 'UTC' });
const grouped = new Intl.NumberFormat('en-GB');

const utc = (day: string) => new Date(`${day.slice(0, 10)}T00:00:00Z`);

/** "Saturday 16 May 2026". */
export const sayLongDay = (day: string): string => long.format(utc(day)).replace(',', '');
/** "Saturday 16 May". */
export const sayShortDay = (day: string): string => noYear.format(utc(day)).replace(',', '');
/** "May 2026" from `2026-05`. */
export const sayMonth = (month: string): string => monthYear.format(utc(`${month}-01`));
/** "Saturday 16 May 2026, 14:07". */
export const sayMoment = (local: string): string =>
  `${sayLongDay(local)}, ${clock.format(new Date(`${local.slice(0, 23).replace(' ', 'T')}Z`))}`;
/** "16 May 2026, 14:07" for a moment of the machine's own, in the browser's zone. */
export const sayWhen = (utcTime: string): string =>
  new Date(utcTime).toLocaleString('en-GB', { day: 'numeric', month: 'long', hour: '2-digit', minute: '2-digit' });
/** "12 840". */
export const sayNumber = (n: number): string => grouped.format(n).replace(/,/g, ' ');
/** "1 picture", "12 840 pictures". */
export const count = (n: number, one: string, many = `${one}s`): string => `${sayNumber(n)} ${n === 1 ? one : many}`;
/** "3.1 MB". */
export function sayBytes(bytes: number): string {
  for (const [unit, size] of [
    ['GB', 1e9],
    ['MB', 1e6],
    ['kB', 1e3],
  ] as const)
    if (bytes >= size) return `${(bytes / size).toFixed(bytes / size < 10 ? 1 : 0)} ${unit}`;
  return `${bytes} bytes`;
}
/** "about 3 minutes", "a few seconds". */
export function sayLeft(seconds: number): string {
  if (seconds < 10) return 'a few seconds';
  if (seconds < 55) return `about ${Math.round(seconds / 5) * 5} seconds`;
  const minutes = Math.round(seconds / 60);
  return minutes < 60
    ? `about ${minutes === 1 ? 'a minute' : `${minutes} minutes`}`
    : `about ${Math.round(minutes / 60)} hours`;
}
/** "0:42". */
export const sayClock = (seconds: number): string =>
  `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, '0')}`;
