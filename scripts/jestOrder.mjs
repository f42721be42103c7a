// The order of the unit tests in a fresh clone, where no earlier run tells how long each takes: the longest first,
// so that no processor idles at the end.
import Sequencer from '@jest/test-sequencer';

const longest = [
  'server/test/kills',
  'cli/test/june',
  'core/test/exr/mutants',
  'core/test/exr/corpus',
  'core/test/config/mutants',
  'web/test/adjustments',
  'cli/test/colour',
  'cli/test/survey',
  'server/test/runs',
];
const place = ({ path }) => {
  const at = longest.findIndex((name) => path.includes(`${name}.test`));
  return at < 0 ? longest.length : at;
};

export default class LongestFirst extends Sequencer {
  sort(tests) {
    return super.sort(tests).sort((a, b) => place(a) - place(b));
  }
}
