import { Checkbox, Form, InputNumber, Radio, Segmented, Select } from 'antd';
import { colourSpaces, displayCodes, isHdr, isLossless } from '@june-haze/core';
import {
  codesOfSpace,
  codesToChoose,
  hasQuality,
  holdsDeepSamples,
  mayHoldStraightAlpha,
  holdsPictures,
  isOneFile,
  isPictureKind,
  outputLikeSource,
  usualLog,
  type OutputSettings,
  type Shot,
} from '@june-haze/contract';
import { isLog } from '../../colour/isLog.ts';
import { lookOf } from '../../colour/lookOf.ts';
import { passesOf, PassesFields } from './PassesFields.tsx';

const packings: { value: OutputSettings['compression']; label: string }[] = [
  { value: 'zip', label: 'ZIP, 16 lines' },
  { value: 'zips', label: 'ZIPS, 1 line' },
  { value: 'piz', label: 'PIZ: small for grain' },
  { value: 'rle', label: 'RLE' },
  { value: 'none', label: 'none' },
  { value: 'pxr24', label: 'PXR24: floats to 24 bits' },
  { value: 'b44', label: 'B44: lossy, fast' },
  { value: 'b44a', label: 'B44A: lossy, flat parts small' },
  { value: 'dwaa', label: 'DWAA: lossy, small' },
  { value: 'dwab', label: 'DWAB: lossy, small, 256 lines' },
];

/** What can be written, for whom, and what suits it to begin with. */
const kinds: {
  value: OutputSettings['kind'];
  label: string;
  forWhom: string;
  start?: Partial<OutputSettings>;
}[] = [
  {
    value: 'exr',
    label: 'EXR, linear',
    forWhom: 'for the next compositor',
  },
  { value: 'aces', label: 'ACES container', forWhom: 'for the colourist' },
  { value: 'dpx', label: 'DPX, log', forWhom: 'for who works in 10 bits and a camera’s curve' },
  { value: 'png', label: 'PNG, as seen', forWhom: 'for the web and for notes', start: { bits: 8, codes: null } },
  { value: 'jpeg', label: 'JPEG, as seen', forWhom: 'for mail and telephones', start: { quality: 95, codes: null } },
  { value: 'tiff', label: 'TIFF, as seen', forWhom: 'for print and the archive', start: { bits: 16, codes: null } },
  {
    value: 'movie',
    label: 'Movie, as seen',
    forWhom: 'for review, the web, editing',
    start: { quality: 70, codes: 'bt1886' },
  },
  {
    value: 'sheet',
    label: 'Contact sheet, as seen',
    forWhom: 'for an overview of a range',
    start: { width: 320, quality: 90, codes: null },
  },
  {
    value: 'passes',
    label: 'Passes, as they came',
    forWhom: 'to build on, with mattes and IDs',
    start: { compression: 'zip' },
  },
];

const codecs: { value: OutputSettings['codec']; label: string }[] = [
  { value: 'h264', label: 'H.264: review' },
  { value: 'vp9', label: 'VP9: the web' },
  { value: 'prores', label: 'ProRes: editing' },
];

/** Log spaces that files can be in, those that sources came in first. */
function logSpaces(shot: Shot) {
  const came = new Set(shot.sources.flatMap((s) => (isLog(s.declaredSpace) ? [s.declaredSpace!] : [])));
  const others = colourSpaces.filter((s) => s.family === 'log' && !came.has(s.name));
  return [
    ...[...came].map((value) => ({ value, label: `${value}, as its source came` })),
    ...others.map(({ name }) => ({ value: name, label: name })),
  ];
}

/** The working space, and the log spaces: files can go back in those. */
const spacesOf = (shot: Shot, kind: OutputSettings['kind']) => [
  ...(kind === 'dpx' ? [] : [{ value: null, label: `${shot.workingSpace}, the working space` }]),
  ...logSpaces(shot),
];

/** What is shown, or the codes of a display's space without the viewing: those that sources came in first. */
function numbersOf({ sources, viewing }: Shot) {
  const all = codesToChoose.filter((c) => !isHdr(c)).map((c) => displayCodes[c].spaces[0]!);
  const came = sources.flatMap((s) => (s.declaredSpace && codesOfSpace(s.declaredSpace) ? [s.declaredSpace] : []));
  return [
    { value: null, label: `what is shown: ${viewing.display} · ${viewing.view}` },
    ...[...new Set([...came, ...all])].map((value) => ({
      value,
      label: `${value} without the viewing${came.includes(value) ? ', as its source came' : ''}`,
    })),
  ];
}

/** The codes of the viewing's display, and those of others that show the same light. */
const codesOf = ({ viewing }: Shot) => [
  { value: null, label: `as ${viewing.display} has them` },
  ...codesToChoose.map((value) => ({
    value,
    label: `${displayCodes[value].name}: the same light in its codes${isHdr(value) ? ', of an HDR viewing' : ''}`,
  })),
];

/** How a contact sheet is laid out, and what file it is. */
function SheetFields() {
  return (
    <>
      <Form.Item name="sheetFile" label="File">
        <Segmented
          options={[
            { value: 'png', label: 'PNG' },
            { value: 'jpeg', label: 'JPEG' },
          ]}
        />
      </Form.Item>
      <Form.Item name="columns" label="In a row" extra="pictures; empty for a sheet about as wide as a screen">
        <InputNumber min={1} max={200} precision={0} />
      </Form.Item>
      <Form.Item name="labels" label="Numbers" valuePropName="checked">
        <Checkbox>the frame’s below each picture</Checkbox>
      </Form.Item>
    </>
  );
}

/** What kind of files an output writes, for whom, and what their numbers are. */
export function KindFields({ shot, settings }: { shot: Shot; settings: OutputSettings }) {
  const form = Form.useFormInstance<OutputSettings>();
  const kind = Form.useWatch('kind', form) ?? settings.kind;
  const codec = Form.useWatch('codec', form) ?? settings.codec;
  const bits = Form.useWatch('bits', form) ?? settings.bits;
  const space = Form.useWatch('space', form) ?? null;
  const sheetFile = Form.useWatch('sheetFile', form) ?? settings.sheetFile;
  const seen = holdsPictures({ kind, space });
  const back = shot.sources.flatMap((source) => {
    const like = source.reading.use === 'plate' ? outputLikeSource(source, shot) : undefined;
    return like ? [{ source, like }] : [];
  });
  return (
    <>
      {back.length > 0 && (
        <Form.Item label="Back to where">
          <Select
            aria-label="Back to where a source came from"
            placeholder="as a source came: its kind, space, depth, size and names"
            value={null}
            options={back.map(({ source }) => ({ value: source.id, label: `${source.name} came from` }))}
            onChange={(id: string | null) => {
              const like = back.find((b) => b.source.id === id)?.like;
              if (like) form.setFieldsValue(like);
            }}
          />
        </Form.Item>
      )}
      <Form.Item name="kind" label="Files">
        <Radio.Group
          className="kinds"
          onChange={(e) => {
            const chosen = e.target.value as OutputSettings['kind'];
            form.setFieldsValue(kinds.find((k) => k.value === chosen)?.start ?? {});
            // A space of light is none of a picture's, nor the other way about.
            if (isPictureKind(chosen) !== isPictureKind(kind)) form.setFieldValue('space', null);
            if (chosen === 'passes' && !(form.getFieldValue('passes') as unknown[] | undefined)?.length)
              form.setFieldValue('passes', passesOf(shot));
            if (chosen === 'dpx' && !isLog(form.getFieldValue('space') as string | null))
              form.setFieldValue('space', shot.sources.find((x) => isLog(x.declaredSpace))?.declaredSpace ?? usualLog);
          }}
        >
          {kinds.map(({ value, label, forWhom }) => (
            <Radio key={value} value={value}>
              <span>{label}</span> <span className="quiet">{forWhom}</span>
            </Radio>
          ))}
        </Radio.Group>
      </Form.Item>
      {(kind === 'exr' || kind === 'dpx') && (
        <Form.Item label="Space" name="space">
          <Select options={spacesOf(shot, kind)} />
        </Form.Item>
      )}
      {kind === 'exr' && (
        <>
          <Form.Item name="sampleType" label="Samples">
            <Segmented
              options={[
                { value: 'half', label: 'half' },
                { value: 'float', label: 'float' },
              ]}
            />
          </Form.Item>
          <Form.Item name="compression" label="Packing">
            <Select options={packings} />
          </Form.Item>
        </>
      )}
      {kind === 'passes' && (
        <>
          <PassesFields shot={shot} />
          <Form.Item name="compression" label="Packing">
            <Select options={packings.filter((p) => isLossless(p.value))} />
          </Form.Item>
        </>
      )}
      {kind === 'aces' && <Form.Item label="Space">ACES2065-1, half, not packed (SMPTE ST 2065-4)</Form.Item>}
      {(kind === 'exr' || kind === 'aces') && (
        <Form.Item name="alpha" label="Alpha" valuePropName="checked">
          <Checkbox>write it, where the total has one</Checkbox>
        </Form.Item>
      )}
      {isPictureKind(kind) && (
        <>
          {!isOneFile({ kind }) && (
            <Form.Item name="space" label="Numbers">
              <Select options={numbersOf(shot)} />
            </Form.Item>
          )}
          {seen && (
            <>
              <Form.Item label="View">
                {shot.viewing.display} · {shot.viewing.view}, baked in
              </Form.Item>
              <Form.Item name="codes" label="Codes">
                <Select options={codesOf(shot)} />
              </Form.Item>
            </>
          )}
          {kind === 'movie' && (
            <Form.Item name="codec" label="Packing">
              <Segmented options={codecs} />
            </Form.Item>
          )}
          {kind === 'sheet' && <SheetFields />}
          {hasQuality({ kind, codec, sheetFile }) && (
            <Form.Item name="quality" label="Quality" extra="1 to 100, the best">
              <InputNumber min={1} max={100} precision={0} />
            </Form.Item>
          )}
          {holdsDeepSamples(kind) && (
            <Form.Item name="bits" label="Samples">
              <Segmented
                options={[
                  { value: 8, label: '8 bits' },
                  { value: 16, label: '16 bits' },
                ]}
              />
            </Form.Item>
          )}
          {(kind === 'jpeg' || (holdsDeepSamples(kind) && bits === 8)) && (
            <Form.Item name="dither" label="Between codes" valuePropName="checked">
              <Checkbox>spread by chance, against bands in soft gradients</Checkbox>
            </Form.Item>
          )}
          {mayHoldStraightAlpha({ kind, codec }) && (
            <Form.Item name="transparent" label="Alpha" valuePropName="checked">
              <Checkbox>write it, where the total has one, and colour without it</Checkbox>
            </Form.Item>
          )}
          {seen && (
            <Form.Item name="bakeLook" label="Look" valuePropName="checked">
              <Checkbox>bake the viewing’s look in too ({lookOf(shot.viewing)})</Checkbox>
            </Form.Item>
          )}
        </>
      )}
    </>
  );
}
