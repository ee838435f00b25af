/** Line drawings, each a file of its own: what it is made of. */
declare module 'lucide/dist/esm/icons/*.mjs' {
  const drawing: import('lucide').IconNode;
  export default drawing;
}
