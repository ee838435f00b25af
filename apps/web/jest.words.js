// Tests read English, as it stands in the sources.
const { i18n } = require('@lingui/core');

i18n.loadAndActivate({ locale: 'en', locales: ['en-GB'], messages: {} });
