import { adjustment } from '../adjustment.ts';

export const lut = adjustment({
  kind: 'lut',
  title: 'LUT',
  does: 'The numbers through a LUT of the Library, in the space that it expects, and back.',
  published: 'the file itself; see docs/colour.md for the formats',
  search: ['cube', 'table', '3d'],
  parameters: { lookFile: { type: 'lookFile', title: 'File', default: null } },
  alpha: 'straight',
  choosesSpace: false,
  compile: ({ lookFile }, { colour, space }) => (lookFile ? colour.lookInPlace(space, { look: null, lookFile }) : []),
});
