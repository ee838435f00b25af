// How the router's pages are fetched when they are first shown, instead of by React's own way: once that has shown something in the place of a
// part, it waits for 300 ms however soon the part is there. `barrels.cjs` puts it in.
const React = require('react');

module.exports = function lazy(load) {
  let Page = null;
  let coming = null;
  /** Fetches the page; one that came with the first script is there when this answers. */
  const begin = () =>
    (coming ??= new Promise((resolve, reject) => {
      load().then((module) => {
        Page = module.default;
        resolve();
      }, reject);
    }).catch((error) => {
      coming = null;
      throw error;
    }));
  return function Later(props) {
    const [here, setHere] = React.useState(() => {
      if (!Page) begin().catch(() => undefined);
      return Page !== null;
    });
    React.useEffect(() => {
      if (here) return;
      let gone = false;
      begin().then(
        () => !gone && setHere(true),
        (error) =>
          !gone &&
          setHere(() => {
            throw error;
          }),
      );
      return () => {
        gone = true;
      };
    }, [here]);
    return Page ? React.createElement(Page, props) : null;
  };
};
