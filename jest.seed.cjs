const fc = require('fast-check');

// Drawn cases are the same in every short run, so that a change is judged by what it changes; the long form draws others each time
// and says its seed when one fails.
if (process.env.GEMMEL_LONG !== '1') fc.configureGlobal({ seed: 20261126 });
