// npm run demo:reset: the demo as it was at the first start. Asks the running application, or leaves a mark for the next start.
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './paths.mjs';

const folder = process.env.JUNE_DATA ?? join(root, 'var');
const running = join(root, 'var/running.json');
const port = existsSync(running) ? JSON.parse(readFileSync(running, 'utf8')).JUNE_PORT : undefined;
const answered =
  port &&
  (await fetch(`http://127.0.0.1:${port}/api/demo/reset`, { method: 'POST' }).then(
    (r) => r.ok,
    () => false,
  ));
if (answered) console.log('The demo is being made anew; the application shows its progress.');
else {
  mkdirSync(folder, { recursive: true });
  writeFileSync(join(folder, 'demo-reset'), '');
  console.log('The demo will be made anew at the next "npm start".');
}
