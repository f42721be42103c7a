import { Command } from 'commander';

/** Wraps a command: its error becomes one line on standard error and a non-zero exit. Commands are loaded when called. */
function action<T extends unknown[]>(load: () => Promise<(...args: T) => Promise<void>>) {
  return async (...args: T) => {
    try {
      await (
        await load()
      )(...args);
    } catch (error) {
      process.stderr.write(`june: ${error instanceof Error ? error.message : String(error)}\n`);
      process.exitCode = 1;
    }
  };
}

// Who reads only the beginning, as `head` does, wants no more: that is no fault.
process.stdout.on('error', (error: NodeJS.ErrnoException) => process.exit(error.code === 'EPIPE' ? 0 : 1));

const gather = (value: string, before: string[] = []) => [...before, value];

const june = new Command('june').description('The June Haze engine without a screen.');
june
  .command('info <file>')
  .description('what is in an EXR file')
  .option('--json', 'as JSON')
  .action(action(async () => (await import('./info.ts')).info));
june
  .command('pixels <file>')
  .description('raw little-endian float32 samples of some channels')
  .option('--part <n>', 'part of a multi-part file', '0')
  .option('--channels <names>', 'channel names, separated by commas')
  .option('--channel <name>', 'one channel name, commas and all; may be repeated', gather)
  .requiredOption('--out <file>', 'where the samples go')
  .action(action(async () => (await import('./pixels.ts')).pixels));
june
  .command('colour')
  .description('colours from one space to another; JSON [[r,g,b],…] in and out')
  .option('--config <config>', 'a config file, its folder or a zip of it, or "builtin"')
  .option('--from <space>')
  .option('--to <space>')
  .option('--display <display>')
  .option('--view <view>')
  .option('--look <look>', 'replaces the view’s looks; empty for none')
  .option('--named <name>', 'through a named transform')
  .option('--builtin <style>', 'through a builtin style; needs no config')
  .option('--rule <file>', 'the space that the config’s rules give a file name')
  .option('--context <name=value>', 'gives a value to a variable of the config; may be repeated', gather)
  .option('--inverse', 'the other way round')
  .option('--list', 'what the config has')
  .action(action(async () => (await import('./colour.ts')).colour));
june
  .command('compare <a> <b>')
  .description('how two EXR files differ')
  .option('--json', 'as JSON')
  .action(action(async () => (await import('./compare.ts')).compare));
june
  .command('match <linear> <reference>')
  .description('what made a picture of a linear frame: space, view, look, trims and mistakes, ranked')
  .option('--config <config>', 'a config to search beside the built-in one; may be repeated', gather)
  .option('--lut <file>', 'a LUT or CDL that may have been on as a look; may be repeated', gather)
  .option('--view-lut <file>', 'a show LUT that may have made the codes by itself; may be repeated', gather)
  .option('--lut-space <space>', 'the space whose numbers those take', 'ACEScct')
  .option('--layer <name>', 'the layer that was shown; the beauty when left out')
  .option('--note <words>', 'what the renderer said: a first guess, and what decides where the picture cannot')
  .option('--json', 'as JSON')
  .action(action(async () => (await import('./match.ts')).match));
june
  .command('wording <text...>')
  .description('what a renderer’s words for space, display, view, look and trims mean in a config')
  .requiredOption('--config <config>', 'a config file, its folder or a zip of it, or "builtin"')
  .option('--json', 'as JSON')
  .action(action(async () => (await import('./wording.ts')).wording));
june
  .command('verify <file>')
  .description('reads every pixel of a file or a movie and says whether it is whole, and what its tags say')
  .option('--job <job>', 'holds it against what the job that it was made from shows')
  .option('--output <name>', 'which output of the job it is, where its name does not tell')
  .option('--frame <n>', 'and which frame')
  .option('--json', 'as JSON')
  .action(action(async () => (await import('./verify.ts')).verify));
june
  .command('deltae')
  .description('CIEDE2000 of pairs of CIELAB colours')
  .option('--json', 'as JSON')
  .action(action(async () => (await import('./numbers.ts')).deltaE));
june
  .command('idhash <names...>')
  .description('hash and float of ID names')
  .action(action(async () => (await import('./numbers.ts')).hashes));
june
  .command('render <shot>')
  .description('writes an output of a shot: the same run as the Output screen')
  .requiredOption('--output <name>')
  .option('--frames <range>', 'such as 1001-1024')
  .option('--overwrite', 'replace files that are there')
  .option('--accept <reason>', 'why what has to be accepted before writing may be as it is')
  .action(action(async () => (await import('./render.ts')).render));
june
  .command('run <job>')
  .description('does the job that a file describes: no database, no screen')
  .option('--output <name>', 'one output; all of them when left out')
  .option('--frames <range>', 'such as 1001-1024')
  .option('--to <folder>', 'another folder for the files')
  .option('--threads <n>', 'worker threads')
  .option('--overwrite', 'replace files that are there')
  .option('--json', 'as JSON, one line an output')
  .action(action(async () => (await import('./run.ts')).run));
june
  .command('operations')
  .description('everything that a ledger can do: blends, adjustments, mattes and finishes')
  .option('--json', 'as JSON')
  .option('--job-schema', 'the JSON schema of job files instead')
  .action(action(async () => (await import('./operations.ts')).operations));
june
  .command('worker')
  .description('takes frames off the queue until it is stopped')
  .option('--threads <n>', 'frames at once; as many as there are processors when left out')
  .action(action(async () => (await import('./render.ts')).worker));

june
  .command('survey <folder>')
  .description('what Intake finds in a folder: sources, their spaces with evidence, and what is wrong with them')
  .option('--rate <fps>', 'the shot’s frames per second, to hold the material’s against')
  .option('--config <config>', 'a config whose file rules count and whose names are used')
  .option('--full', 'looks at the pixels of every frame, not of a handful')
  .option('--json', 'as JSON')
  .action(action(async () => (await import('./survey.ts')).survey));
june
  .command('rewrite <from> <to>')
  .description('packs an EXR file anew; values and attributes are kept')
  .option('--codec <name>', 'none, rle, zips, zip, piz, pxr24, b44, b44a, dwaa or dwab; the file’s own when left out')
  .option('--type <type>', 'half, float or uint for every channel; each its own when left out')
  .option('--layout <layout>', 'scanline or tiled', 'scanline')
  .option('--tile <pixels>', 'side of a tile', '64')
  .option(
    '--layers <where>',
    'same as in the file, together in one part, into parts, or one file per layer (files)',
    'same',
  )
  .action(action(async () => (await import('./rewrite.ts')).rewrite));
const bench = june.command('bench').description('times the engine itself, without its start');
bench
  .command('decode <file>')
  .description('reading channels of an EXR file')
  .option('--part <n>', 'part of a multi-part file', '0')
  .option('--channels <names>', 'channel names, separated by commas; all when left out')
  .option('--threads <n>', 'worker threads', '1')
  .option('--runs <n>', 'how often', '5')
  .option('--json', 'as JSON')
  .action(action(async () => (await import('./bench.ts')).benchDecode));

bench
  .command('view')
  .description('a colour conversion or view over a picture in memory')
  .option('--config <config>', 'a config file, its folder or a zip of it, or "builtin"', 'builtin')
  .requiredOption('--from <space>')
  .option('--to <space>')
  .option('--display <display>')
  .option('--view <view>')
  .option('--look <look>', 'replaces the view’s looks')
  .option('--size <size>', 'such as 1920x1080', '1920x1080')
  .option('--threads <n>', 'worker threads', '1')
  .option('--runs <n>', 'how often', '5')
  .option('--json', 'as JSON')
  .action(action(async () => (await import('./bench.ts')).benchView));

bench
  .command('ledger <shot>')
  .description('a shot’s ledger over one whole frame, through its view, from planes in memory')
  .option('--frame <n>', 'the shot’s first when left out')
  .option('--size <size>', 'such as 1280x720; the shot’s own when left out')
  .option('--runs <n>', 'how often', '5')
  .option('--json', 'as JSON')
  .action(action(async () => (await import('./benchLedger.ts')).bench));

// `--look -dusk`: a look that begins with a minus is a value, not an option.
const words = process.argv.map((word, i, all) =>
  all[i - 1] === '--look' && word.startsWith('-') ? `--look=${word}` : word,
);
await june.parseAsync(words.filter((_, i) => !(words[i] === '--look' && words[i + 1]?.startsWith('--look='))));
