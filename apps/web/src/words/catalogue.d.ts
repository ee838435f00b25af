/** Catalogues become modules when the application is built. */
declare module '*.po' {
  export const messages: import('@lingui/core').Messages;
}
