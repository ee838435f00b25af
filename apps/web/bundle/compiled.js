// Catalogues come compiled; a sentence that has none is shown as it is.
export const compileMessage = (message) => message;
