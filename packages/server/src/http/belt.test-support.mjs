/** Functions that work in browsers too. */
export default {
  inBrowsers: true,
  functions: {
    BELT: {
      takes: [['altitude', 'number']],
      gives: 'text',
      help: 'The belt that an altitude lies in.',
      example: 'BELT(2150) = "alpine"',
      run: ([altitude]) => (altitude === null ? null : altitude < 2000 ? 'subalpine' : 'alpine'),
    },
  },
};
