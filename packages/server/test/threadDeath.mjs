// Loaded into the processes of the kill test (node --import): now and then a compute thread ends in the middle of its work.
import { isMainThread } from 'node:worker_threads';

const share = Number(process.env.JUNE_THREAD_DEATHS ?? 0);
if (!isMainThread && share > 0) {
  const timer = setInterval(() => {
    if (Math.random() < share) process.exit(1);
  }, 100);
  timer.unref();
}
