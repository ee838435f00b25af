const { ModernFakeTimers } = require('@jest/fake-timers');
const { ModuleMocker } = require('jest-mock');

/** What a suite might leave behind for the next one of the same process. */
const kept = () => ({
  env: { ...process.env },
  console: globalThis.console,
  listeners: new Map(process.eventNames().map((name) => [name, process.rawListeners(name)])),
});

/**
 * Where suites of the server run: the world of the process itself, not one made anew for each. What is global is found as quickly as in
 * the real program, packages are loaded once for all suites of a process (jest.runtime.cjs), and an error of Node's is an Error.
 */
module.exports = class World {
  constructor({ projectConfig: config }) {
    this.global = globalThis;
    this.moduleMocker = new ModuleMocker(globalThis);
    this.fakeTimers = null;
    this.fakeTimersModern = new ModernFakeTimers({ config, global: globalThis });
  }

  async setup() {
    this.before = kept();
  }

  async teardown() {
    this.fakeTimersModern.dispose();
    const { env, console, listeners } = this.before;
    for (const name of Object.keys(process.env)) if (!(name in env)) delete process.env[name];
    Object.assign(process.env, env);
    globalThis.console = console;
    for (const name of process.eventNames())
      for (const listener of process.rawListeners(name))
        if (!listeners.get(name)?.includes(listener)) process.removeListener(name, listener);
  }

  exportConditions() {
    return ['node', 'node-addons'];
  }

  /** There is none but the world itself; jest asks whether it has been torn down. */
  getVmContext() {
    return globalThis;
  }
};
