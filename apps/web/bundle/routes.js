// How the router's pages are fetched when they are first shown, instead of by React's own way: once that has shown something in the place of a
// part, it waits for 300 ms however soon the part is there. `barrels.cjs` puts it in.
const React = require('react');

module.exports = function lazy(load) {
  let Page = null;
  let coming = null;
  const begin = () =>
    (coming ??= new Promise((resolve, reject) => load().then(resolve, reject)).then(
      (module) => void (Page = module.default),
      (error) => {
        coming = null;
        throw error;
      },
    ));
  return function Later(props) {
    const [here, setHere] = React.useState(Page !== null);
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
