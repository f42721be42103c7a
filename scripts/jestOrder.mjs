// The order of the unit tests in a fresh clone, where no earlier run tells how long each takes: the longest first,
// so that no processor idles at the end.
import Sequencer from '@jest/test-sequencer';

const longest = [
  'core/test/match/finder',
  'server/test/kills',
  'files/test/match',
  'server/test/demoMaker',
  'cli/test/june',
  'cli/test/match',
  'core/test/config/mutants',
  'core/test/exr/corpus',
  'web/test/adjustments',
  'core/test/exr/mutants',
  'cli/test/colour',
  'core/test/ledger/random',
  'server/test/match',
  'cli/test/survey',
  'core/test/match/writtenView',
  'cli/test/run',
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
