/** Whether a key was pressed for the page itself: not into a field or a sheet, and not as part of a browser's own. */
export function isForPage(event: {
  target: EventTarget | null;
  ctrlKey: boolean;
  metaKey: boolean;
  altKey: boolean;
}): boolean {
  if (event.ctrlKey || event.metaKey || event.altKey) return false;
  return !(event.target as HTMLElement).closest('input,textarea,select,video,dialog,[role=dialog]');
}
