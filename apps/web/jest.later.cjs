/** Has tests require what pages import later: there, all parts of a page are at hand. */
module.exports = ({ template }) => {
  const required = template.expression('Promise.resolve().then(() => require(FROM))', { syntacticPlaceholders: false });
  return {
    name: 'later',
    visitor: {
      CallExpression(call) {
        if (call.node.callee.type === 'Import') call.replaceWith(required({ FROM: call.node.arguments[0] }));
      },
      ImportExpression(imported) {
        imported.replaceWith(required({ FROM: imported.node.source }));
      },
    },
  };
};
