/** Does something again and again, `ms` apart and never twice at once, for as long as it is not stopped. Errors are told under a name. */
export function inRounds(ms: number, name: string, act: () => Promise<unknown>): { stop: () => Promise<void> } {
  let round: Promise<unknown> = Promise.resolve();
  const timer = setInterval(() => {
    round = round
      .then(act)
      .catch((error: unknown) => console.error(`${name}:`, error instanceof Error ? error.message : error));
  }, ms);
  timer.unref();
  return {
    stop: async () => {
      clearInterval(timer);
      await round;
    },
  };
}
