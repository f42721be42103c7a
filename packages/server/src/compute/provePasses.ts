import { comparePictures, openExr, readChannels } from '@june-haze/core';
import type { ReadBack } from '@june-haze/contract';
import { openSource, zlibCodec } from '@june-haze/files';
import { figuresOf, saveProofPictures, seenByTags } from './readBack.ts';
import { show } from './show.ts';
import type { PassesWritten, PicturePlace } from './writePasses.ts';
import { encodingOf, type ProofTask } from './writeTask.ts';

const nothing: ReadBack['tagged'] = {
  maxCode: 0,
  meanCode: 0,
  at: [0, 0],
  deltaE: { mean: 0, p95: 0, p99: 0, max: 0 },
};

/** The proof of passes: every sample as it came; and the first that has colours shown as it is declared, against the written one by its own tags. */
export async function provePasses(task: ProofTask, written: PassesWritten): Promise<ReadBack> {
  const { channels, samples, other, picture } = written;
  const seen = picture && (await seenBack(task, picture));
  const figures = seen && comparePictures(seen.shown, seen.tagged, picture.width, encodingOf(task));
  const same = other === 0;
  const close = !figures || figures.maxCode <= 1;
  return {
    tagged: figures ? figuresOf(figures) : nothing,
    ignoring:
      seen && picture
        ? figuresOf(comparePictures(seen.shown, seen.ignoring, picture.width, encodingOf(task)))
        : nothing,
    tags: seen?.says ?? 'no colours, and no tags of any',
    alpha: null,
    judged: [
      same
        ? `${channels} ${channels === 1 ? 'channel' : 'channels'}, all ${samples} samples as they came, to the bit`
        : `${other} of ${samples} samples are not as they came`,
      ...(close ? [] : [`by its tags it is seen ${figures.maxCode} code values off`]),
    ].join('; '),
    proved: same && close,
  };
}

async function seenBack(task: ProofTask, picture: PicturePlace) {
  const source = await openSource(picture.path);
  try {
    const file = await openExr(source);
    const { planes } = await readChannels(file, picture.part, picture.channels, zlibCodec);
    const { colour } = task;
    const view = colour.view(task.workingSpace, task.viewing);
    const shown = show(picture.came, [{ steps: colour.conversion(picture.space, task.workingSpace) }, { steps: view }]);
    const { says, tagged, ignoring } = seenByTags(task, file.parts[picture.part]!, planes);
    if (task.pictures) await saveProofPictures(task.pictures, { ...task, ...picture }, { shown, tagged, ignoring });
    return { shown, tagged, ignoring, says };
  } finally {
    await source.close();
  }
}
