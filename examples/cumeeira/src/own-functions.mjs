/**
 * Functions of the association’s own for formulas, worked out on the server and in browsers alike: the file imports nothing.
 *
 * @type {import('@gaveta/server').Addition}
 */
export default {
  inBrowsers: true,
  functions: {
    ALTITUDEBELT: {
      takes: [['altitude', 'number']],
      gives: 'text',
      help: 'The belt of the range that an altitude in metres lies in.',
      example: 'ALTITUDEBELT(2150) = "alpine"',
      run: ([altitude]) => {
        if (altitude === null) return null;
        return altitude < 1500 ? 'montane' : altitude < 2000 ? 'subalpine' : altitude < 2600 ? 'alpine' : 'nival';
      },
    },
  },
};
