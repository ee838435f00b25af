// Guests of a share, each with a browser that opens it, looks at its first screens and goes on now and then.

const [at, many, ids] = [process.argv[2], Number(process.argv[3]), process.argv[4].split(',')];
const small = [];
const view = [];
let errors = 0;
const timed = async (list, url) => {
  const began = performance.now();
  try {
    const response = await fetch(url);
    await response.arrayBuffer();
    if (!response.ok) errors++;
  } catch {
    errors++;
  }
  list.push(performance.now() - began);
};
const wait = (ms) => new Promise((resolve) => setTimeout(resolve, ms));
await Promise.all(
  Array.from({ length: many }, async (_, guest) => {
    // They do not all press at the same millisecond: within half a minute, as after a message to the whole family.
    await wait((guest * 30_000) / many);
    await timed(view, at);
    for (let screen = 0; screen < 4; screen++) {
      const from = (guest * 7 + screen * 12) % ids.length;
      await Promise.all(
        Array.from({ length: 12 }, (__, i) => timed(small, `${at}/pictures/${ids[(from + i) % ids.length]}/small`)),
      );
      await wait(1500 + ((guest * 37) % 1500));
    }
  }),
);
process.send({ small, view, errors });
process.disconnect();
