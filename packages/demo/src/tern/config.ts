import { codeOfLight } from '@june-haze/core';

/**
 * Tern's own colour config, as a renderer ships one: a log space, a filmic view made of that log and a cube, three looks.
 * All of it invented for the demo.
 */
const low = -10;
const high = 6.5;
/** Keeps black at the foot of the log. */
const floor = 2 ** low;
const cubeSize = 33;

const fromLog = (v: number) => 2 ** (low + v * (high - low)) - floor;
const encode = (l: number) => codeOfLight(l, 'srgb');

/** The hazy film curve: a soft shoulder that never quite reaches white, grey about where it was. */
function film(x: number): number {
  const t = (Math.max(x, 0) / 0.18) ** 1.4;
  return (t / (t + 5.4)) * 1.02;
}

/** Light of Rec.709 primaries to codes: bright colours lose their saturation, then the curve, then sRGB's encoding. */
function haze(r: number, g: number, b: number): [number, number, number] {
  const y = 0.2126 * r + 0.7152 * g + 0.0722 * b;
  const t = Math.min(Math.max((Math.log2(y + 1e-4) + 0.5) / 5, 0), 1);
  const wash = 0.06 + 0.7 * t * t * (3 - 2 * t);
  return [r, g, b].map((x) => Math.min(encode(film(x + (y - x) * wash)), 1)) as [number, number, number];
}

type Change = (r: number, g: number, b: number) => readonly number[];

function cube(title: string, size: number, change: Change): string {
  const rows: string[] = [];
  const at = (i: number) => i / (size - 1);
  for (let b = 0; b < size; b++)
    for (let g = 0; g < size; g++)
      for (let r = 0; r < size; r++) {
        rows.push(
          change(at(r), at(g), at(b))
            .map((x) => x.toFixed(6))
            .join(' '),
        );
      }
  return `TITLE "${title}"\nLUT_3D_SIZE ${size}\n${rows.join('\n')}\n`;
}

/** Copper: shadows to blue-green, lights to warm, in log codes. */
const copper: Change = (r, g, b) => {
  const y = (r + g + b) / 3;
  const warm = 0.035 * (y - 0.55);
  return [r + warm, g + warm * 0.25, b - warm * 1.2].map((x) => Math.min(Math.max(x, 0), 1));
};

const clear = `<?xml version="1.0" encoding="UTF-8"?>
<ColorCorrection id="clear">
  <SOPNode>
    <Description>the haze lifted a little</Description>
    <Slope>1.08 1.08 1.08</Slope>
    <Offset>-0.022 -0.022 -0.022</Offset>
    <Power>1 1 1</Power>
  </SOPNode>
  <SatNode><Saturation>1.12</Saturation></SatNode>
</ColorCorrection>
`;

const config = `ocio_profile_version: 2
name: Tern
description: The stand-in renderer's own colours.
search_path: luts
strictparsing: true
luma: [0.2126, 0.7152, 0.0722]
roles:
  aces_interchange: ACES2065-1
  cie_xyz_d65_interchange: CIE XYZ D65
  scene_linear: ACEScg
  rendering: ACEScg
  color_timing: Tern Log
  texture_paint: sRGB Texture
  data: Numbers
  default: ACEScg
file_rules:
  - !<Rule> {name: pictures, extension: "[pj][np]g", pattern: "*", colorspace: sRGB Texture}
  - !<Rule> {name: ColorSpaceNamePathSearch}
  - !<Rule> {name: Default, colorspace: default}
displays:
  sRGB:
    - !<View> {name: Haze, colorspace: Haze sRGB, description: "the renderer's film"}
    - !<View> {name: Haze at dusk, colorspace: Haze sRGB, looks: dusk}
    - !<View> {name: Untoned, colorspace: sRGB Texture}
    - !<View> {name: Numbers, colorspace: Numbers}
active_displays: [sRGB]
active_views: [Haze, Haze at dusk, Untoned, Numbers]
colorspaces:
  - !<ColorSpace>
    name: ACES2065-1
    aliases: [lin_ap0]
    family: Linear
    encoding: scene-linear
    description: Linear, AP0 primaries
  - !<ColorSpace>
    name: ACEScg
    aliases: [lin_ap1]
    family: Linear
    encoding: scene-linear
    description: Linear, AP1 primaries, what Tern renders in
    to_scene_reference: !<BuiltinTransform> {style: ACEScg_to_ACES2065-1}
  - !<ColorSpace>
    name: Linear Rec.709
    aliases: [lin_rec709]
    family: Linear
    encoding: scene-linear
    description: Linear, Rec.709 primaries
    from_scene_reference: !<GroupTransform>
      children:
        - !<BuiltinTransform> {style: ACEScg_to_ACES2065-1, direction: inverse}
        - !<BuiltinTransform> {style: UTILITY - ACES-AP1_to_LINEAR-REC709_BFD}
  - !<ColorSpace>
    name: Tern Log
    family: Log
    encoding: log
    description: Stops of Rec.709 light, for looks
    from_scene_reference: !<GroupTransform>
      children:
        - !<ColorSpaceTransform> {src: ACES2065-1, dst: Linear Rec.709}
        - !<AllocationTransform> {allocation: lg2, vars: [${low}, ${high}, ${floor}]}
  - !<ColorSpace>
    name: Haze sRGB
    family: Display
    encoding: sdr-video
    description: Codes of an sRGB display through Tern's film
    from_scene_reference: !<GroupTransform>
      children:
        - !<ColorSpaceTransform> {src: ACES2065-1, dst: Tern Log}
        - !<FileTransform> {src: haze.cube, interpolation: tetrahedral}
  - !<ColorSpace>
    name: sRGB Texture
    aliases: [srgb_tx]
    family: Display
    encoding: sdr-video
    description: Encoded pictures
    from_scene_reference: !<GroupTransform>
      children:
        - !<ColorSpaceTransform> {src: ACES2065-1, dst: Linear Rec.709}
        - !<ExponentWithLinearTransform> {gamma: [2.4, 2.4, 2.4, 1], offset: [0.055, 0.055, 0.055, 0], direction: inverse}
  - !<ColorSpace> {name: Numbers, family: Data, encoding: data, isdata: true, description: Numbers that are no colour}
display_colorspaces:
  - !<ColorSpace> {name: CIE XYZ D65, family: Display, encoding: display-linear, description: Light of a display}
view_transforms:
  - !<ViewTransform>
    name: plain
    from_scene_reference: !<BuiltinTransform> {style: UTILITY - ACES-AP0_to_CIE-XYZ-D65_BFD}
looks:
  - !<Look>
    name: dusk
    process_space: Tern Log
    description: cooler and later in the day
    transform: !<CDLTransform> {slope: [0.97, 0.985, 1.02], offset: [-0.012, -0.006, 0.012], power: [1.03, 1.01, 0.98], sat: 0.85}
  - !<Look>
    name: clear
    process_space: Tern Log
    description: the haze lifted a little
    transform: !<FileTransform> {src: clear.cc}
  - !<Look>
    name: copper
    process_space: Tern Log
    description: warm lights, blue-green shadows
    transform: !<FileTransform> {src: copper.cube, interpolation: tetrahedral}
`;

/** The config's folder: path and text of each file. */
export function ternConfig(): ReadonlyMap<string, string> {
  return new Map([
    ['config.ocio', config],
    ['luts/haze.cube', cube('haze', cubeSize, (r, g, b) => haze(fromLog(r), fromLog(g), fromLog(b)))],
    ['luts/copper.cube', cube('copper', 17, copper)],
    ['luts/clear.cc', clear],
  ]);
}
