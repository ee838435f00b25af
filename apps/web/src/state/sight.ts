/** What of the pictures' page is in the window, in CSS pixels from its top. Read when a picture is asked for; nothing is drawn anew for it. */
let sight = { from: 0, to: Infinity };

/** Notes what is in the window now. */
export const lookAt = (from: number, height: number): void => void (sight = { from, to: from + height });

/** Whether something on the pictures' page is in the window: its picture is fetched before those that are only near. */
export const isInSight = (top: number, height: number): boolean => top + height > sight.from && top < sight.to;
