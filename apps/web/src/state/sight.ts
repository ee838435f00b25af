/** What of the pictures' page is in the window, in CSS pixels from its top. Read when a picture is asked for; nothing is drawn anew for it. */
let sight = { from: 0, to: Infinity };
/** The pictures in the window, or in the one that is being jumped to, by number. */
let inWindow: ReadonlySet<number> = new Set();

/** Notes what is in the window now, or will be in a moment. */
export function lookAt(from: number, height: number, ids: Iterable<number>): void {
  sight = { from, to: from + height };
  inWindow = new Set(ids);
}

/** Whether something on the pictures' page is in the window: its picture is fetched before those that are only near. */
export const isInSight = (top: number, height: number): boolean => top + height > sight.from && top < sight.to;

/** Whether a picture is. */
export const isShown = (id: number): boolean => inWindow.has(id);
