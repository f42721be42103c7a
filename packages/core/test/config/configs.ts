import { lutFiles } from './lutFiles.ts';

const lut = (name: string) => lutFiles.find((f) => f.name === name)!.content;

/** A version 2 config that uses nearly everything; made up for the tests. */
export const landingConfig = `ocio_profile_version: 2.1
name: landing test
environment: {LOOKFILE: one.cc, PLACE: pier}
search_path: [luts/$PLACE, luts]
luma: [0.2126, 0.7152, 0.0722]
roles:
  aces_interchange: ACES2065-1
  cie_xyz_d65_interchange: CIE XYZ D65
  scene_linear: ACEScg
  color_timing: ACEScct
  data: raw
  default: ACEScg
file_rules:
  - !<Rule> {name: plates, extension: "exr", pattern: "*plate*", colorspace: ACEScct}
  - !<Rule> {name: stills, extension: "[pP][nN][gG]", pattern: "*", colorspace: srgb texture}
  - !<Rule> {name: numbered, regex: "shot_[0-9]+/.*\\\\.tif", colorspace: raw}
  - !<Rule> {name: ColorSpaceNamePathSearch}
  - !<Rule> {name: Default, colorspace: default}
viewing_rules:
  - !<Rule> {name: Any Linear, encodings: [scene-linear, log]}
  - !<Rule> {name: Only Raw, colorspaces: raw}
shared_views:
  - !<View> {name: Shared Film, view_transform: film, display_colorspace: <USE_DISPLAY_NAME>, rule: Any Linear}
  - !<View> {name: Shared Raw, colorspace: raw, rule: Only Raw}
displays:
  sRGB screen:
    - !<View> {name: ACES, view_transform: aces, display_colorspace: sRGB screen}
    - !<View> {name: ACES dusk, view_transform: aces, display_colorspace: sRGB screen, looks: dusk}
    - !<View> {name: film, colorspace: baked film}
    - !<View> {name: film dusk, colorspace: baked film, looks: "+dusk, -warm"}
    - !<Views> [Shared Film, Shared Raw]
  Rec.709 monitor:
    - !<Views> [Shared Film]
    - !<View> {name: from display, view_transform: dimmer, display_colorspace: Rec.709 monitor}
active_displays: [Rec.709 monitor, sRGB screen]
active_views: [ACES, ACES dusk, Shared Film, film, film dusk, from display]
inactive_colorspaces: [hidden]
default_view_transform: film
view_transforms:
  - !<ViewTransform>
    name: aces
    from_scene_reference: !<BuiltinTransform> {style: "ACES-OUTPUT - ACES2065-1_to_CIE-XYZ-D65 - SDR-VIDEO_1.0"}
  - !<ViewTransform>
    name: film
    from_scene_reference: !<GroupTransform>
      children:
        - !<BuiltinTransform> {style: UTILITY - ACES-AP0_to_CIE-XYZ-D65_BFD}
        - !<CDLTransform> {slope: [0.9, 0.95, 1], power: [1.1, 1.05, 1]}
  - !<ViewTransform>
    name: dimmer
    from_display_reference: !<MatrixTransform> {matrix: [0.5, 0, 0, 0, 0, 0.5, 0, 0, 0, 0, 0.5, 0, 0, 0, 0, 1]}
colorspaces:
  - !<ColorSpace> {name: ACES2065-1, aliases: [ap0, lin_ap0], encoding: scene-linear, family: ACES}
  - !<ColorSpace>
    name: ACEScg
    aliases: [ap1, "lin ap1"]
    encoding: scene-linear
    family: ACES
    to_scene_reference: !<BuiltinTransform> {style: ACEScg_to_ACES2065-1}
  - !<ColorSpace>
    name: ACEScct
    encoding: log
    to_scene_reference: !<BuiltinTransform> {style: ACEScct_to_ACES2065-1}
  - !<ColorSpace>
    name: srgb texture
    aliases: [srgb_tx]
    encoding: sdr-video
    from_scene_reference: !<GroupTransform>
      children:
        - !<ColorSpaceTransform> {src: ACES2065-1, dst: ACEScg}
        - !<BuiltinTransform> {style: UTILITY - ACES-AP1_to_LINEAR-REC709_BFD}
        - !<ExponentWithLinearTransform> {gamma: [2.4, 2.4, 2.4, 1], offset: [0.055, 0.055, 0.055, 0], direction: inverse}
  - !<ColorSpace>
    name: baked film
    from_scene_reference: !<GroupTransform>
      children:
        - !<ColorSpaceTransform> {src: ACES2065-1, dst: ACEScct}
        - !<FileTransform> {src: three.cube, interpolation: tetrahedral}
  - !<ColorSpace>
    name: by look
    to_scene_reference: !<LookTransform> {src: ACEScct, dst: ACES2065-1, looks: "dusk"}
  - !<ColorSpace>
    name: by view
    from_scene_reference: !<DisplayViewTransform> {src: ACES2065-1, display: sRGB screen, view: film}
  - !<ColorSpace>
    name: two looks
    from_scene_reference: !<LookTransform> {src: ACES2065-1, dst: ACES2065-1, looks: "+warm, -dusk"}
  - !<ColorSpace>
    name: look choice
    from_scene_reference: !<LookTransform> {src: ACES2065-1, dst: ACEScct, looks: "absent, dusk | warm : -dusk | dusk"}
  - !<ColorSpace>
    name: view without look
    from_scene_reference: !<DisplayViewTransform> {src: ACES2065-1, display: sRGB screen, view: film dusk, looks_bypass: true}
  - !<ColorSpace>
    name: view backwards
    to_scene_reference: !<DisplayViewTransform> {src: ACEScg, display: Rec.709 monitor, view: Shared Film, direction: inverse}
  - !<ColorSpace>
    name: data taken along
    from_scene_reference: !<ColorSpaceTransform> {src: half raw, dst: ACEScg, data_bypass: false}
  - !<ColorSpace>
    name: data left alone
    from_scene_reference: !<ColorSpaceTransform> {src: half raw, dst: ACEScg}
  - !<ColorSpace>
    name: half raw
    isdata: true
    to_scene_reference: !<MatrixTransform> {matrix: [0.5, 0, 0, 0, 0, 0.5, 0, 0, 0, 0, 0.5, 0, 0, 0, 0, 1]}
  - !<ColorSpace>
    name: nested
    to_scene_reference: !<GroupTransform>
      direction: inverse
      children:
        - !<GroupTransform>
          children:
            - !<FileTransform> {src: one.cc, direction: inverse, cdl_style: asc}
            - !<ExponentTransform> {value: [1.5, 1.5, 1.5, 1]}
        - !<GroupTransform>
          direction: inverse
          children:
            - !<MatrixTransform> {offset: [0.1, 0.2, 0.3, 0]}
            - !<ColorSpaceTransform> {src: ACEScg, dst: ACEScct, direction: inverse}
  - !<ColorSpace>
    name: by named
    to_scene_reference: !<ColorSpaceTransform> {src: bend, dst: unbend}
  - !<ColorSpace>
    name: both ways
    to_scene_reference: !<ExponentTransform> {value: [2, 2, 2, 1]}
    from_scene_reference: !<ExponentTransform> {value: [0.45, 0.45, 0.45, 1]}
  - !<ColorSpace>
    name: same group a
    equalitygroup: same
    to_scene_reference: !<MatrixTransform> {offset: [1, 1, 1, 0]}
  - !<ColorSpace>
    name: same group b
    equalitygroup: same
    to_scene_reference: !<MatrixTransform> {offset: [2, 2, 2, 0]}
  - !<ColorSpace>
    name: by variable
    to_scene_reference: !<FileTransform> {src: "\${LOOKFILE}"}
  - !<ColorSpace>
    name: hidden
    to_scene_reference: !<MatrixTransform> {offset: [0.1, 0.1, 0.1, 0]}
  - !<ColorSpace> {name: raw, isdata: true, encoding: data}
display_colorspaces:
  - !<ColorSpace> {name: CIE XYZ D65, encoding: display-linear}
  - !<ColorSpace>
    name: sRGB screen
    encoding: sdr-video
    from_display_reference: !<BuiltinTransform> {style: DISPLAY - CIE-XYZ-D65_to_sRGB}
  - !<ColorSpace>
    name: Rec.709 monitor
    encoding: sdr-video
    from_display_reference: !<BuiltinTransform> {style: DISPLAY - CIE-XYZ-D65_to_REC.1886-REC.709}
looks:
  - !<Look>
    name: dusk
    process_space: ACEScct
    transform: !<CDLTransform> {slope: [1.1, 1, 0.9], offset: [0.01, 0, -0.01], power: [1, 1.05, 1.1], sat: 0.9}
  - !<Look>
    name: warm
    process_space: ACEScg
    transform: !<MatrixTransform> {matrix: [1.1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0.9, 0, 0, 0, 0, 1]}
    inverse_transform: !<MatrixTransform> {matrix: [0.8, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1.2, 0, 0, 0, 0, 1]}
  - !<Look>
    name: absent
    process_space: ACEScg
    transform: !<FileTransform> {src: nowhere.cube}
  - !<Look>
    name: place
    process_space: ACEScg
    transform: !<FileTransform> {src: of place.cc}
  - !<Look>
    name: backwards
    process_space: ACEScct
    inverse_transform: !<CDLTransform> {slope: [1.2, 1, 1]}
named_transforms:
  - !<NamedTransform>
    name: bend
    aliases: [bent]
    transform: !<ExponentTransform> {value: [2, 1.5, 1.2, 1]}
  - !<NamedTransform>
    name: unbend
    inverse_transform: !<ExponentTransform> {value: [3, 3, 3, 1]}
`;

export const landingFiles: Readonly<Record<string, string>> = {
  'luts/three.cube': lut('three.cube'),
  'luts/one.cc': lut('one.cc'),
  'luts/other.cc': lut('one.cc').replace('0.85', '1.4'),
  'luts/pier/of place.cc': lut('one.cc').replace('1.1 1 0.9', '0.7 1 1.2'),
  'luts/boat/of place.cc': lut('one.cc').replace('1.1 1 0.9', '1.3 1 1.2'),
};

/** A version 1 config as older renderers ship them: one reference, allocation, views that are colour spaces. */
export const oldConfig = `ocio_profile_version: 1
search_path: luts
strictparsing: true
luma: [0.2126, 0.7152, 0.0722]
roles:
  default: linear
  scene_linear: linear
  data: raw
displays:
  film:
    - !<View> {name: Film, colorspace: film view}
    - !<View> {name: Film, dusk, colorspace: film view, looks: dusk}
    - !<View> {name: Raw, colorspace: raw}
active_displays: [film]
active_views: [Film, Raw]
colorspaces:
  - !<ColorSpace>
    name: linear
    family: light
    bitdepth: 32f
    isdata: false
    allocation: lg2
    allocationvars: [-8, 5]
  - !<ColorSpace>
    name: log
    bitdepth: 32f
    from_reference: !<GroupTransform>
      children:
        - !<AllocationTransform> {allocation: lg2, vars: [-10, 6.5]}
        - !<FileTransform> {src: one.spi1d, interpolation: linear}
  - !<ColorSpace>
    name: film view
    from_reference: !<GroupTransform>
      children:
        - !<ColorSpaceTransform> {src: linear, dst: log}
        - !<FileTransform> {src: cube.spi3d, interpolation: best}
        - !<ExponentTransform> {value: [1.1, 1.1, 1.1, 1]}
  - !<ColorSpace>
    name: gamma
    to_reference: !<ExponentTransform> {value: [2.2, 2.2, 2.2, 1]}
  - !<ColorSpace> {name: raw, isdata: true}
looks:
  - !<Look>
    name: dusk
    process_space: log
    transform: !<CDLTransform> {slope: [1.1, 1, 0.9], power: [1, 1.05, 1.1]}
`.replace('Film, dusk', '"Film, dusk"');

export const oldFiles: Readonly<Record<string, string>> = {
  'luts/one.spi1d': lut('one.spi1d'),
  'luts/cube.spi3d': lut('cube.spi3d'),
};
