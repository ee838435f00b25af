let last = 0;

/** Notes the picture that was last looked at closely. */
export const noteSeen = (id: number): void => void (last = id);

/** The picture that was last looked at closely, asked for once; 0 for none. */
export function takeSeen(): number {
  const id = last;
  last = 0;
  return id;
}
