import { adjustment } from '../adjustment.ts';
import { optionalName } from '../parameters.ts';

export const look = adjustment({
  kind: 'look',
  title: 'Baked look',
  does: 'A LUT or CDL of the Library and looks of the config, baked into the entry.',
  published: 'the files and the config themselves',
  search: ['lut', 'cdl', 'cube', 'grade'],
  parameters: {
    look: optionalName('look', 'All'),
    lookFile: { type: 'lookFile', title: 'File', default: null },
  },
  alpha: 'straight',
  choosesSpace: false,
  compile: ({ look: looks, lookFile }, { colour, space }) => colour.lookInPlace(space, { look: looks, lookFile }),
});
