import {
  adaptation,
  displayCodes,
  multiply3,
  toXyz,
  type CodeEncoding,
  type Primaries,
  type Vector3,
} from '@june-haze/core';

/** The white of the profile connection space as its header must have it, X Y Z (ICC.1:2022, 7.2.16), and in x and y. */
const d50 = [0.9642, 1, 0.8249] as const;
const d50xy = [0.3457, 0.3585] as const;

/** The columns of a display's matrix, light to XYZ adapted to D50 by Bradford's cones (ICC.1:2022, 9.2.44 and annex E.2). */
function columns(primaries: Primaries): readonly Vector3[] {
  const m = multiply3(adaptation(primaries.white, d50xy), toXyz(primaries));
  return [0, 1, 2].map((c): Vector3 => [m[c]!, m[3 + c]!, m[6 + c]!]);
}

/**
 * A small ICC v4 display profile: primaries adapted to D50 and a parametric curve (ICC.1:2022 8.3, 10.18). Throws for codes that a matrix and
 * curves cannot say (PQ).
 */
export function displayProfile(encoding: CodeEncoding): Buffer {
  const { name, primaries, iccCurve } = displayCodes[encoding];
  if (!iccCurve) throw new Error(`${name} cannot be said by an ICC profile of a matrix and curves.`);
  const fixed = (...numbers: number[]) => {
    const b = Buffer.alloc(numbers.length * 4);
    numbers.forEach((n, i) => b.writeInt32BE(Math.round(n * 65536), i * 4));
    return b;
  };
  const tag = (type: string, body: Buffer) => Buffer.concat([Buffer.from(type, 'latin1'), Buffer.alloc(4), body]);
  const text = (s: string) => {
    const head = Buffer.alloc(20);
    head.writeUInt32BE(1, 0);
    head.writeUInt32BE(12, 4);
    head.write('enUS', 8, 'latin1');
    head.writeUInt32BE(s.length * 2, 12);
    head.writeUInt32BE(28, 16);
    return tag('mluc', Buffer.concat([head, Buffer.from(s, 'utf16le').swap16()]));
  };
  const curve = tag('para', Buffer.concat([Buffer.from([0, iccCurve.kind, 0, 0]), fixed(...iccCurve.parameters)]));
  const [red, green, blue] = columns(primaries) as [Vector3, Vector3, Vector3];
  const tags: [string, Buffer][] = [
    ['desc', text(name)],
    ['cprt', text('No copyright')],
    ['wtpt', tag('XYZ ', fixed(...d50))],
    ['rXYZ', tag('XYZ ', fixed(...red))],
    ['gXYZ', tag('XYZ ', fixed(...green))],
    ['bXYZ', tag('XYZ ', fixed(...blue))],
    ['rTRC', curve],
    ['gTRC', curve],
    ['bTRC', curve],
  ];
  const table = Buffer.alloc(4 + tags.length * 12);
  table.writeUInt32BE(tags.length, 0);
  let at = 128 + table.length;
  const bodies: Buffer[] = [];
  tags.forEach(([signature, body], i) => {
    const padded = Buffer.concat([body, Buffer.alloc((4 - (body.length % 4)) % 4)]);
    table.write(signature, 4 + i * 12, 'latin1');
    table.writeUInt32BE(at, 8 + i * 12);
    table.writeUInt32BE(body.length, 12 + i * 12);
    bodies.push(padded);
    at += padded.length;
  });
  const header = Buffer.alloc(128);
  header.writeUInt32BE(at, 0);
  header.writeUInt32BE(0x04400000, 8);
  header.write('mntrRGB XYZ ', 12, 'latin1');
  header.writeUInt16BE(2026, 24);
  header.writeUInt16BE(6, 26);
  header.writeUInt16BE(1, 28);
  header.write('acsp', 36, 'latin1');
  fixed(...d50).copy(header, 68);
  return Buffer.concat([header, table, ...bodies]);
}
