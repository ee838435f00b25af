import { restic, ResticError, snapshotsOf, type Way } from './restic';

/** A state that has lost something may hide another: it is looked so often at most. */
const ROUNDS = 40;

/** Trees that restic could not read, or of which a file has lost something, in what its `check` says. */
const treesIn = (said: string): string[] => [
  ...new Set([...said.matchAll(/tree ([0-9a-f]{8,64})/g)].map(([, id]) => id!)),
];

/** The states that hold some trees, whether these can still be read or not. */
async function statesWith(way: Way, trees: readonly string[], signal: AbortSignal): Promise<Set<string>> {
  const told: string[] = [];
  let beside = '';
  await restic(way, ['find', '--json', '--no-lock', '--tree', ...trees], {
    signal,
    line: (line) => told.push(line),
    aside: (text) => (beside += text),
  }).catch((error: unknown) => {
    if (!(error instanceof ResticError)) throw error;
  });
  // What it could not read it tells in words, what it could as JSON.
  const states = new Set(
    [...`${told.join('\n')}\n${beside}`.matchAll(/belongs to snapshot ([0-9a-f]{64})/g)].map(([, id]) => id!),
  );
  try {
    for (const { snapshot } of JSON.parse(told.find((line) => line.startsWith('[')) ?? '[]') as { snapshot?: string }[])
      if (snapshot) states.add(snapshot);
  } catch {
    // It found none that it could read.
  }
  return states;
}

/**
 * Lets old states go that have lost something for good, once the latest is whole again: what was changed or removed since cannot be copied
 * anew, and as long as they are listed every check would find them wanting. The latest state never goes.
 * @returns how many went.
 * @throws {@link ResticError} when what is left is still not whole.
 */
export async function forgetBroken(way: Way, signal: AbortSignal): Promise<number> {
  let gone = 0;
  for (let round = 0; ; round++) {
    try {
      await restic(way, ['check'], { signal });
      return gone;
    } catch (error) {
      if (!(error instanceof ResticError) || error.fault === 'away' || round === ROUNDS) throw error;
      const latest = (await snapshotsOf(way, { signal })).at(-1)?.id;
      const trees = treesIn(error.said);
      const broken = trees.length
        ? [...(await statesWith(way, trees.slice(0, 200), signal))].filter((id) => id !== latest)
        : [];
      if (broken.length === 0) throw error;
      await restic(way, ['forget', ...broken], { signal });
      gone += broken.length;
    }
  }
}
