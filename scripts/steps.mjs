/** Runs one step of a set-up, says it and how long it took; a failure is one sentence with its remedy. */
export async function step(title, work) {
  const started = performance.now();
  process.stdout.write(`  ${title} … `);
  try {
    const said = await work();
    console.log(`${said || 'done'} (${((performance.now() - started) / 1000).toFixed(1)} s)`);
  } catch (error) {
    console.log('failed');
    const full = error.code === 'ENOSPC' || /ENOSPC|No space left/i.test(String(error.message));
    console.error(`\n${full ? 'The disk is full: free some space and start again.' : error.message}`);
    process.exit(1);
  }
}
