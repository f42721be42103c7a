import { framesOf } from '../material.ts';
import { missingFrames, type LookedMaterial, type LookedMember, type SurveySource } from '../survey.ts';
import { framesText, type Problem } from './problem.ts';

/** Frames that are not there, not readable, cut short, of another kind, or there twice. */
export function frameProblems(material: LookedMaterial, source: SurveySource): Problem[] {
  return [
    ...absent(material, source),
    ...material.members.flatMap((m) => [...faulty(m, source), ...repeated(m, source)]),
    ...(material.strangers ?? []).map((file): Problem => ({
      kind: 'foreign-file',
      source: source.id,
      pass: null,
      file,
      frames: [],
      sampled: false,
      text: `${file} lies among the frames and is none of them; it is passed over`,
    })),
  ];
}

function absent(material: LookedMaterial, source: SurveySource): Problem[] {
  if (source.kind !== 'sequence') return [];
  const lacking = material.members
    .map((m) => ({ m, frames: missingFrames(m.sequence, source.frames, source.step) }))
    .filter((x) => x.frames.length > 0);
  const moving = material.members.filter((m) => m.sequence.frames.length > 0);
  // All passes lack the same frames: one finding, not one a pass.
  const common =
    lacking.length === moving.length && lacking.every((x) => String(x.frames) === String(lacking[0]!.frames));
  return (common ? lacking.slice(0, 1) : lacking).map(({ m, frames }) => ({
    kind: 'missing-frames',
    source: source.id,
    pass: common && moving.length > 1 ? null : m.pass,
    file: null,
    frames,
    sampled: false,
    text: `${framesText(frames)} ${frames.length === 1 ? 'is' : 'are'} missing`,
  }));
}

function faulty(member: LookedMember, source: SurveySource): Problem[] {
  return member.looks.flatMap((look): Problem[] => {
    const about = { source: source.id, pass: member.pass, file: look.file, frames: [look.frame], sampled: false };
    if ('fault' in look) {
      if (look.fault.kind === 'growing') return [];
      return [{ ...about, kind: look.fault.kind, text: look.fault.message }];
    }
    if (look.facts.missingChunks === 0) return [];
    const share = Math.floor(look.facts.readable * 100);
    return [
      { ...about, kind: 'truncated-frame', text: `frame ${look.frame} ends early, ${share} % of it can be read` },
    ];
  });
}

/** Some frames repeat others byte for byte; a sequence that is one picture throughout is a held frame and no fault. */
function repeated(member: LookedMember, source: SurveySource): Problem[] {
  const frames = member.repeats.map(([frame]) => frame);
  if (!frames.length || frames.length >= framesOf(member.sequence).length - 1) return [];
  const [frame, of] = member.repeats[0]!;
  return [
    {
      kind: 'duplicate-frames',
      source: source.id,
      pass: member.pass,
      file: null,
      frames,
      sampled: false,
      text:
        frames.length === 1
          ? `frame ${frame} holds the same bytes as frame ${of}`
          : `${framesText(frames)} repeat the bytes of others (${frame} those of ${of})`,
    },
  ];
}
