const config = require('./lingui.config.cjs');
module.exports = { ...config, catalogs: [{ ...config.catalogs[0], path: "/tmp/gemmel-words-55crCu/{locale}/messages" }] };
