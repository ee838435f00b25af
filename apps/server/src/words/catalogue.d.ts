/** Catalogues become modules when the server is built. */
declare module '*.po' {
  export const messages: import('@lingui/core').Messages;
}
