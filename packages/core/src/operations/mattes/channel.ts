import { dataRoles } from '../../sequence/passes.ts';
import { name } from '../parameters.ts';
import { matte } from '../matte.ts';

export const channel = matte({
  kind: 'channel',
  title: 'Channel',
  does: 'A channel of a pass, limited to 0 … 1.',
  published: 'the channel itself',
  search: ['mask', 'alpha', 'pass'],
  parameters: {
    source: name('source', 'Source'),
    pass: name('pass', 'Pass', ['matte', 'alpha']),
    channel: name('channel', 'Channel'),
  },
  planes({ source, pass, channel: wanted }, place) {
    const found = place.passes(source).find((p) => p.name === pass);
    if (!found) throw new Error(`there is no pass "${pass}".`);
    const named = found.channels.find((c) => c.component === wanted || c.name === wanted);
    if (!named)
      throw new Error(
        `the pass ${pass} has no channel "${wanted}"; it has ${found.channels.map((c) => c.component).join(', ')}.`,
      );
    const own = named.name;
    return [
      { source, part: found.part, colour: [own, own, own], data: dataRoles.has(found.role) && found.role !== 'matte' },
    ];
  },
  run({ heap, n, to, planes }) {
    heap.kernels.copyPlane(to, planes[0]![0], n);
  },
});
