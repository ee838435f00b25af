/**
 * Stands in for the package of schemas where pages are bundled. Servers check what comes in; a page only carries the schemas along with
 * the names of the routes, and hardly ever checks anything. So a schema is written down as it is made, and made when somebody checks with it:
 * by then `becomes` must have been given the real package, which is fetched with the few pages that check (see `api/checked`).
 */
const MADE = Symbol('made');
const CHECKS = new Set(['parse', 'safeParse', 'parseAsync', 'safeParseAsync']);
let real = null;

/** Anything with the schemas in it made. */
function whole(value) {
  if (typeof value === 'function') return value[MADE]?.() ?? ((...given) => whole(value(...given)));
  if (Array.isArray(value)) return value.map(whole);
  if (value && Object.getPrototypeOf(value) === Object.prototype)
    return Object.fromEntries(Object.entries(value).map(([key, one]) => [key, whole(one)]));
  return value;
}

/** A schema, or a way to one, that is made by `make` when it is needed. `known` is what can be read of it before. */
function written(make, known = {}) {
  let made;
  const now = () => (made ??= make());
  return new Proxy(function () {}, {
    get(_, key) {
      if (key === MADE) return now;
      if (key in known) return known[key];
      if (typeof key === 'symbol' || key === 'then') return undefined;
      if (CHECKS.has(key)) return (...given) => now()[key](...given);
      return written(() => {
        const found = now()[key];
        return typeof found === 'function' && !found[MADE] ? found.bind(now()) : found;
      });
    },
    apply: (_, self, given) => written(() => now()(...given.map(whole))),
  });
}

const package_ = () => {
  if (!real) throw new Error('Nothing can be checked here: the package of schemas has not been fetched.');
  return real;
};

/** A choice is the one schema whose options are read without checking anything. */
const choice = new Proxy(function () {}, {
  apply: (_, self, [options, ...more]) =>
    written(() => package_().enum(options, ...more.map(whole)), {
      options: Array.isArray(options) ? options : Object.values(options),
    }),
});

export const z = written(package_, { enum: choice, becomes: (schemas) => void (real = schemas) });
