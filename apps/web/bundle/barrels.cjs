/**
 * Has pages import from the very files of core and contract instead of from their barrels, so that a page carries what it uses and no more;
 * leaves out of the table of routes what only servers read of it; and has the router's pages stand as soon as they have come. For bundles alone: everywhere else the barrels do.
 */
const { createHash } = require('node:crypto');
const { existsSync, readFileSync } = require('node:fs');
const path = require('node:path');

const PACKAGES = path.resolve(__dirname, '../../../packages');
const OWN = /^export (?:async )?(?:function\*?|const|let|class|enum) (\w+)/gm;
const FROM = /^export (?:\* from|\{(?<names>[^}]*)\} from) '(?<from>\.[^']+)';/gm;
/** What a page wants to know of a route. */
const OF_ROUTES = new Set(['method', 'path', 'part', 'reads']);

/** The router's own file that fetches pages when they are first shown. */
const ROUTES = 'expo-router/build/useScreens.js';

/** The values a barrel gives, by name, with the file each is made in. */
function valuesOf(file, found = new Map()) {
  const text = readFileSync(file, 'utf8');
  for (const [, name] of text.matchAll(OWN)) if (!found.has(name)) found.set(name, file);
  for (const { groups } of text.matchAll(FROM)) {
    const next = `${path.resolve(path.dirname(file), groups.from)}.ts`;
    if (!existsSync(next)) continue;
    const below = valuesOf(next);
    const names = groups.names
      ? groups.names
          .split(',')
          .map((one) => one.trim())
          .filter((one) => one && !one.startsWith('type '))
      : [...below.keys()];
    for (const name of names) if (below.has(name) && !found.has(name)) found.set(name, below.get(name));
  }
  return found;
}

const barrels = Object.fromEntries(
  ['core', 'contract'].map((name) => {
    const root = path.join(PACKAGES, name, 'src');
    const values = [...valuesOf(path.join(root, 'index.ts'))].map(([value, file]) => [
      value,
      `@gemmel/${name}/${path.relative(root, file).replace(/\.ts$/, '')}`,
    ]);
    return [`@gemmel/${name}`, new Map(values)];
  }),
);

/** Changes with everything the barrels say: what was bundled by an earlier state of them is bundled anew. */
const version = createHash('sha256')
  .update(JSON.stringify(Object.values(barrels).map((values) => [...values])))
  .update(readFileSync(__filename))
  .digest('hex');

const plugin = ({ types: t }) => ({
  name: 'barrels',
  visitor: {
    Program(program) {
      let changed = false;
      const body = program.node.body.flatMap((one) => {
        const values = one.type === 'ImportDeclaration' && one.importKind !== 'type' ? barrels[one.source.value] : null;
        if (!values) return [one];
        changed = true;
        const stays = [];
        const goes = new Map();
        for (const specifier of one.specifiers) {
          const from = specifier.type === 'ImportSpecifier' ? values.get(specifier.imported.name) : null;
          if (from && specifier.importKind !== 'type') goes.set(from, [...(goes.get(from) ?? []), specifier]);
          else stays.push(specifier);
        }
        return [
          ...(stays.length || one.specifiers.length === 0 ? [{ ...one, specifiers: stays }] : []),
          ...[...goes].map(([from, specifiers]) => t.importDeclaration(specifiers, t.stringLiteral(from))),
        ];
      });
      if (!changed) return;
      program.node.body = body;
      program.scope.crawl();
    },
    MemberExpression(one, { filename }) {
      if (!filename?.endsWith(ROUTES) || one.node.property.name !== 'lazy') return;
      const instead = path.relative(path.dirname(filename), path.join(__dirname, 'routes.js'));
      one.replaceWith(t.callExpression(t.identifier('require'), [t.stringLiteral(instead)]));
    },
    CallExpression({ node }, { filename }) {
      if (node.callee.name !== 'endpoint' || !filename?.startsWith(path.join(PACKAGES, 'contract'))) return;
      const [route] = node.arguments;
      if (route?.type === 'ObjectExpression')
        route.properties = route.properties.filter((one) => OF_ROUTES.has(one.key?.name));
    },
  },
});

module.exports = plugin;
module.exports.version = version;
