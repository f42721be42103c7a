export { openEngine, settingsFromEnvironment, type Engine, type Settings } from './open.ts';
export { benchLedger, type LedgerBench } from './bench/ledgerBench.ts';
export { RequestError } from './errors.ts';
export { preCheck } from './shots/preCheck/preCheck.ts';
export { exrFile } from './intake/frameFiles.ts';
export { beginChecked } from './runs/beginChecked.ts';
