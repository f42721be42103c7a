/** LUT files of every kind for the tests: bent tables and a cube that mixes channels, made up for the purpose. */

import { writeCorrection } from '../../src/lut/cdl.ts';

const film = (x: number) => x ** 0.6 * 0.9 + 0.05 * x;

function rows(count: number, row: (i: number) => readonly number[]): string {
  return Array.from({ length: count }, (_, i) =>
    row(i)
      .map((x) => x.toPrecision(8))
      .join(' '),
  ).join('\n');
}

/** A bent colour for a place of a cube: rising in its own channel, a little of the others. */
export function bent(r: number, g: number, b: number): [number, number, number] {
  return [
    0.85 * film(r) + 0.08 * g + 0.02 * b * b,
    0.05 * r + 0.88 * film(g) + 0.03 * b,
    0.02 * r * g + 0.06 * g + 0.86 * film(b),
  ];
}

function lattice(n: number, blueFastest: boolean): [number, number, number][] {
  const out: [number, number, number][] = [];
  for (let i = 0; i < n ** 3; i++) {
    const [low, mid, high] = [i % n, Math.floor(i / n) % n, Math.floor(i / (n * n))].map((k) => k / (n - 1)) as [
      number,
      number,
      number,
    ];
    out.push(blueFastest ? bent(high, mid, low) : bent(low, mid, high));
  }
  return out;
}

const table = (n: number) => rows(n, (i) => [film(i / (n - 1)), film(i / (n - 1)) * 0.9, (i / (n - 1)) ** 2]);
const points = (n: number, blueFastest: boolean) => {
  const all = lattice(n, blueFastest);
  return rows(all.length, (i) => all[i]!);
};
const codes = (n: number, top: number) =>
  lattice(n, true)
    .map((v) => v.map((x) => Math.round(Math.min(x, 1) * top)).join(' '))
    .join('\n');

const clf = (nodes: string, version = 'compCLFversion="3"') =>
  `<?xml version="1.0" encoding="UTF-8"?>\n<ProcessList id="made" ${version}>\n<Description>made for a test</Description>\n${nodes}\n</ProcessList>`;

/** Half floats that stand at every bit pattern, squared and signed, for tables over the half domain. */
function halfDomain(): string {
  const out: string[] = [];
  for (let bits = 0; bits < 65536; bits++) {
    const exponent = (bits >> 10) & 31;
    const fraction = bits & 1023;
    const size = exponent === 0 ? fraction * 2 ** -24 : (1024 + fraction) * 2 ** (exponent - 25);
    const x = (bits & 0x8000 ? -1 : 1) * (exponent === 31 ? 65504 : size);
    out.push((Math.sign(x) * Math.log2(1 + Math.abs(x)) * 0.3).toPrecision(8));
  }
  return out.join('\n');
}

/** A cube whose colours are cut off at 0 and 1, so that many places hold the same colour. */
const cutOff = (n: number) =>
  lattice(n, true).map((v) => v.map((x) => Math.min(Math.max(1.5 * x - 0.2, 0), 1)) as [number, number, number]);
const spi3d = (n: number, colours: readonly (readonly number[])[]) =>
  `SPILUT 1.0\n3 3\n${n} ${n} ${n}\n${colours
    .map((v, i) => `${Math.floor(i / (n * n))} ${Math.floor(i / n) % n} ${i % n} ${v.join(' ')}`)
    .join('\n')}\n`;

/** Name, content, whether the inverse makes sense, and files that the content refers to. */
export const lutFiles: readonly {
  name: string;
  content: string;
  invertible: boolean;
  others?: Readonly<Record<string, string>>;
}[] = [
  { name: 'one.cube', invertible: true, content: `TITLE "one"\nLUT_1D_SIZE 33\n${table(33)}\n` },
  {
    name: 'domain.cube',
    invertible: true,
    content: `LUT_1D_SIZE 17\nDOMAIN_MIN -0.1 -0.2 0\nDOMAIN_MAX 1.5 1.2 2\n${table(17)}\n`,
  },
  { name: 'three.cube', invertible: true, content: `# a comment\nLUT_3D_SIZE 9\n${points(9, false)}\n` },
  {
    name: 'three domain.cube',
    invertible: true,
    content: `LUT_3D_SIZE 5\nDOMAIN_MIN 0 0 0\nDOMAIN_MAX 2 2 2\n${points(5, false)}\n`,
  },
  {
    name: 'shaper.cube',
    invertible: true,
    content: `LUT_1D_SIZE 65\nLUT_1D_INPUT_RANGE -0.05 4\nLUT_3D_SIZE 7\nLUT_3D_INPUT_RANGE 0 0.95\n${table(65)}\n${points(7, false)}\n`,
  },
  {
    name: 'one.spi1d',
    invertible: true,
    content: `Version 1\nFrom -0.125 1.125\nLength 33\nComponents 1\n{\n${rows(33, (i) => [film(i / 32)])}\n}\n`,
  },
  {
    name: 'three.spi1d',
    invertible: true,
    content: `Version 1\nFrom 0 1\nLength 17\nComponents 3\n{\n${table(17)}\n}\n`,
  },
  {
    name: 'falling.spi1d',
    invertible: true,
    content: `Version 1\nFrom 0 1\nLength 17\nComponents 1\n{\n${rows(17, (i) => [1 - film(i / 16)])}\n}\n`,
  },
  {
    name: 'flat ends.spi1d',
    invertible: true,
    content: `Version 1\nFrom 0 1\nLength 9\nComponents 1\n{\n0.1\n0.1\n0.1\n0.2\n0.5\n0.45\n0.8\n0.9\n0.9\n}\n`,
  },
  {
    name: 'cube.spi3d',
    invertible: true,
    content: spi3d(5, lattice(5, true)),
  },
  { name: 'cut off cube.spi3d', invertible: true, content: spi3d(9, cutOff(9)) },
  {
    name: 'flat cube.spi3d',
    invertible: true,
    content: spi3d(
      3,
      lattice(3, true).map(([r]) => [r, 0, 0.25]),
    ),
  },
  {
    name: 'flat table.spi1d',
    invertible: true,
    content: `Version 1\nFrom 0 1\nLength 5\nComponents 3\n{\n${rows(5, (i) => [0.4, i / 4, 0])}\n}\n`,
  },
  { name: 'matrix.spimtx', invertible: true, content: '1.1 0.1 -0.05 655.35\n0.02 0.9 0.1 -1310.7\n0 0.05 1.05 0\n' },
  {
    name: 'cube.csp',
    invertible: true,
    content: `CSPLUTV100\n3D\n\nBEGIN METADATA\nmade\nEND METADATA\n\n${'2\n0 1\n0 1\n\n'.repeat(3)}5 5 5\n${points(5, false)}\n`,
  },
  {
    name: 'shaped.csp',
    invertible: true,
    content: `CSPLUTV100\n3D\n\n${'6\n0 0.05 0.2 0.5 1 4\n0 0.2 0.45 0.65 0.8 1\n\n'.repeat(3)}5 5 5\n${points(5, false)}\n`,
  },
  {
    name: 'table.csp',
    invertible: true,
    content: `CSPLUTV100\n1D\n\n${'2\n-0.1 1.2\n0 1\n\n'.repeat(3)}17\n${table(17)}\n`,
  },
  { name: 'codes.3dl', invertible: true, content: `0 256 512 768 1023\n${codes(5, 4095)}\n` },
  { name: 'shaper.3dl', invertible: true, content: `0 400 650 850 1023\n${codes(5, 4095)}\n` },
  {
    name: 'mesh.3dl',
    invertible: true,
    content: `3DMESH\nMesh 2 12\n0 256 512 768 1023\n${codes(5, 4095)}\n\nLUT8\ngamma 1.0\n`,
  },
  {
    name: 'all.clf',
    invertible: false,
    content:
      clf(`<Matrix inBitDepth="10i" outBitDepth="32f"><Array dim="3 4">0.001 0 0 0.01\n0 0.00098 0 0\n0 0 0.00097 -0.01</Array></Matrix>
<Range inBitDepth="32f" outBitDepth="32f"><minInValue>-0.1</minInValue><maxInValue>2</maxInValue><minOutValue>0</minOutValue><maxOutValue>1</maxOutValue></Range>
<LUT1D inBitDepth="32f" outBitDepth="12i"><Array dim="9 3">${rows(9, (i) => [film(i / 8) * 4095, (i / 8) * 4095, (i / 8) ** 2 * 4095])}</Array></LUT1D>
<LUT3D inBitDepth="12i" outBitDepth="32f" interpolation="tetrahedral"><Array dim="3 3 3 3">${points(3, true)}</Array></LUT3D>
<ASC_CDL inBitDepth="32f" outBitDepth="32f" style="Fwd"><SOPNode><Slope>1.1 1 0.9</Slope><Offset>0.01 0 0</Offset><Power>1 1.2 0.8</Power></SOPNode><SatNode><Saturation>1.2</Saturation></SatNode></ASC_CDL>`),
  },
  {
    name: 'formulas.clf',
    invertible: true,
    content:
      clf(`<Exponent inBitDepth="32f" outBitDepth="32f" style="monCurveFwd"><ExponentParams exponent="2.4" offset="0.055"/></Exponent>
<Log inBitDepth="32f" outBitDepth="32f" style="cameraLinToLog"><LogParams base="10" linSideSlope="5.55" linSideOffset="0.05" logSideSlope="0.25" logSideOffset="0.39" linSideBreak="0.01"/></Log>
<Exponent inBitDepth="32f" outBitDepth="32f" style="basicPassThruFwd"><ExponentParams channel="R" exponent="1.1"/><ExponentParams channel="B" exponent="0.9"/></Exponent>
<ASC_CDL inBitDepth="32f" outBitDepth="32f" style="RevNoClamp"><SOPNode><Slope>1.1 1 0.9</Slope><Offset>0.01 0 0</Offset><Power>1 1.2 0.8</Power></SOPNode></ASC_CDL>`),
  },
  {
    name: 'half.clf',
    invertible: true,
    content: clf(
      `<LUT1D inBitDepth="16f" outBitDepth="32f" halfDomain="true"><Array dim="65536 1">${halfDomain()}</Array></LUT1D>`,
    ),
  },
  {
    name: 'hue.ctf',
    invertible: true,
    content: clf(
      `<LUT1D inBitDepth="32f" outBitDepth="32f" hueAdjust="dw3"><Array dim="9 3">${table(9)}</Array></LUT1D>`,
      'version="1.7"',
    ),
  },
  {
    name: 'inverse.ctf',
    invertible: false,
    content: clf(
      `<InverseLUT1D inBitDepth="32f" outBitDepth="10i"><Array dim="9 3">${rows(9, (i) => [film(i / 8), i / 8, (i / 8) ** 2].map((x) => x * 1023))}</Array></InverseLUT1D>
<FixedFunction inBitDepth="10i" outBitDepth="32f" style="Glow10Fwd"/>
<ExposureContrast inBitDepth="32f" outBitDepth="32f" style="linear"><ECParams exposure="0.3" contrast="1.2" gamma="1" pivot="0.18"/></ExposureContrast>`,
      'version="2.0"',
    ),
  },
  {
    name: 'inverse cube.ctf',
    invertible: false,
    content: clf(
      `<InverseLUT3D inBitDepth="32f" outBitDepth="32f"><Array dim="5 5 5 3">${points(5, true)}</Array></InverseLUT3D>`,
      'version="2.0"',
    ),
  },
  {
    name: 'grade.ctf',
    invertible: true,
    content: clf(
      `<GradingPrimary inBitDepth="32f" outBitDepth="32f" style="linear"><Exposure rgb="0.1 0 -0.2" master="0.3"/><Contrast rgb="1.1 1 1" master="1.1"/><Pivot contrast="0.2"/><Saturation master="1.2"/></GradingPrimary>
<GradingRGBCurve inBitDepth="32f" outBitDepth="32f" style="linear"><Red><ControlPoints>-6 -6 0 0.5 6 7</ControlPoints></Red></GradingRGBCurve>
<GradingTone inBitDepth="32f" outBitDepth="32f" style="linear"><Blacks rgb="1.2 1 0.8" master="1" start="0" width="4"/><SContrast master="1.2"/></GradingTone>`,
      'version="2.0"',
    ),
  },
  {
    name: 'gamma.ctf',
    invertible: true,
    content: clf(
      `<Gamma inBitDepth="32f" outBitDepth="32f" style="moncurveFwd"><GammaParams gamma="2.2" offset="0.05"/></Gamma>
<Log inBitDepth="32f" outBitDepth="32f" style="log2"/>`,
      'version="1.5"',
    ),
  },
  {
    name: 'index table.clf',
    invertible: true,
    content: clf(
      `<LUT1D inBitDepth="10i" outBitDepth="32f"><IndexMap dim="2">64@0 940@8</IndexMap><Array dim="9 3">${table(9)}</Array></LUT1D>`,
      'compCLFversion="2.0"',
    ),
  },
  {
    name: 'index cube.clf',
    invertible: true,
    content: clf(
      `<LUT3D inBitDepth="32f" outBitDepth="32f"><Array dim="5 5 5 3">${points(5, true)}</Array><IndexMap dim="2">-0.1 @ 0 2@4</IndexMap></LUT3D>`,
      'compCLFversion="2.0"',
    ),
  },
  {
    name: 'early matrix.ctf',
    invertible: true,
    content: clf(
      `<Matrix inBitDepth="32f" outBitDepth="10i"><Array dim="4 4 3">1023 50 0 20\n0 1000 30 -10\n10 0 990 5\n0 0 0 1</Array></Matrix>
<Matrix inBitDepth="10i" outBitDepth="32f"><Array dim="3 3 3">0.001 0 0 0 0.001 0 0 0 0.0011</Array></Matrix>`,
      'version="1.2"',
    ),
  },
  {
    name: 'film scan.ctf',
    invertible: true,
    content: clf(
      `<Log inBitDepth="32f" outBitDepth="32f" style="linToLog"><LogParams channel="R" gamma="0.5" refWhite="681" refBlack="95" highlight="0.9" shadow="0.0045"/><LogParams channel="G" gamma="0.6" refWhite="682" refBlack="94" highlight="1" shadow="0.0025"/><LogParams channel="B" gamma="0.65" refWhite="683" refBlack="93" highlight="0.8" shadow="0.0035"/></Log>`,
      'version="1.3"',
    ),
  },
  {
    name: 'early names.ctf',
    invertible: false,
    content: clf(
      `<ACES inBitDepth="16f" outBitDepth="16f" style="RedMod03Fwd"/>
<ACES inBitDepth="16f" outBitDepth="16f" style="Surround"><ACESParams gamma="1.2"/></ACES>
<Function inBitDepth="16f" outBitDepth="32f" style="RGB_to_HSV"/>`,
      'version="1.6"',
    ),
  },
  {
    name: 'reference.ctf',
    invertible: true,
    content: clf(
      `<Reference inBitDepth="32f" outBitDepth="32f" path="own.spimtx" basePath="Shared"/>
<Reference inBitDepth="32f" outBitDepth="32f" inverted="true" path="own.cc" basePath="Shared"/>`,
      'version="1.7"',
    ),
    others: {
      'own.spimtx': '1.1 0.1 -0.05 655.35\n0.02 0.9 0.1 -1310.7\n0 0.05 1.05 0\n',
      'own.cc':
        '<ColorCorrection id="own"><SOPNode><Slope>1.1 1 0.9</Slope><Offset>0.02 0 -0.02</Offset><Power>1.1 1 0.95</Power></SOPNode></ColorCorrection>',
    },
  },
  {
    name: 'one.cc',
    invertible: true,
    content:
      '<ColorCorrection id="dusk"><SOPNode><Slope>1.1 1 0.9</Slope><Offset>0.02 0 -0.02</Offset><Power>1.1 1 0.95</Power></SOPNode><SatNode><Saturation>0.85</Saturation></SatNode></ColorCorrection>',
  },
  {
    // As this application writes one.
    name: 'written.cc',
    invertible: true,
    content: writeCorrection({
      id: 'dusk & <dawn>',
      slope: [1.1, 1, 0.9],
      offset: [0.02, 0, -0.02],
      power: [1.1, 1, 0.95],
      saturation: 0.85,
    }),
  },
  {
    name: 'many.ccc',
    invertible: true,
    content:
      '<?xml version="1.0"?><ColorCorrectionCollection xmlns="urn:ASC:CDL:v1.2"><ColorCorrection id="noon"><SOPNode><Slope>1 1 1</Slope><Offset>0 0 0</Offset><Power>1 1 1</Power></SOPNode></ColorCorrection><ColorCorrection id="dusk"><SOPNode><Slope>1.2 1 0.8</Slope><Offset>0.02 0 -0.02</Offset><Power>1.1 1 0.95</Power></SOPNode><SatNode><Saturation>0.85</Saturation></SatNode></ColorCorrection></ColorCorrectionCollection>',
  },
  {
    name: 'list.cdl',
    invertible: true,
    content:
      '<?xml version="1.0"?><ColorDecisionList xmlns="urn:ASC:CDL:v1.2"><ColorDecision><ColorCorrection id="dusk"><SOPNode><Slope>1.2 1 0.8</Slope><Offset>0.02 0 -0.02</Offset><Power>1.1 1 0.95</Power></SOPNode></ColorCorrection></ColorDecision></ColorDecisionList>',
  },
];
