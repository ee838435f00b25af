const path = require('node:path');
const Runtime = require('jest-runtime').default;

const PACKAGES = `${path.sep}node_modules${path.sep}`;

/**
 * Loads what suites of the server import (see jest.world.cjs): our own files anew for each suite, packages once for all of them, as Node
 * does. Each suite would read and make ready 1300 files of packages otherwise.
 */
module.exports = class extends Runtime {
  constructor(config, ...rest) {
    super(config, ...rest);
    this.turned = config.transformIgnorePatterns.map((pattern) => new RegExp(pattern));
  }

  requireModuleOrMock(from, name) {
    const at = this.packageAt(from, name);
    return at ? require(at) : super.requireModuleOrMock(from, name);
  }

  /** The file of a package that Node can load by itself; null for ours, for what belongs to Node, and for what must be turned into what jest reads. */
  packageAt(from, name) {
    if (from.includes(PACKAGES) || name.startsWith('.') || this._resolver.isCoreModule(name)) return null;
    let at;
    try {
      at = this._resolver.resolveModule(from, name, { conditions: this.cjsConditions });
    } catch {
      return null;
    }
    return at.includes(PACKAGES) && !at.endsWith('.mjs') && this.turned.some((one) => one.test(at)) ? at : null;
  }

  createScriptFromCode(code, file) {
    const script = super.createScriptFromCode(code, file);
    return script && { runInContext: (_, options) => script.runInThisContext(options) };
  }
};
