import type { LedgerWords } from './ledgerWords.ts';
import type { ReadItAs } from './readItAs.ts';

/** Everything that the page says, in words and numbers already. */
export interface HandOver {
  readonly shot: string;
  readonly output: string;
  /** When the files were finished. */
  readonly finished: string;
  readonly files: string;
  readonly frames: string;
  readonly rate: string;
  readonly size: string;
  readonly alphaAndSpace: ReadItAs;
  /** What the first frame's own tags say. */
  readonly tags: string;
  readonly proof: { readonly proved: boolean; readonly words: string };
  /** What somebody accepted before it was written, and why. */
  readonly accepted: readonly (readonly [line: string, reason: string])[];
  /** What is other by now than when the files were written; empty when nothing is. */
  readonly changedSince: readonly string[];
  /** Of the first frame, as PNG data URLs. */
  readonly pictures: readonly { readonly title: string; readonly words: string; readonly url: string }[];
  readonly sources: readonly {
    readonly files: string;
    readonly frames: string;
    readonly space: string;
    readonly confirmed: string;
    readonly hash: string;
  }[];
  readonly ledger: readonly LedgerWords[];
  readonly renderer: string;
  readonly colour: readonly (readonly [what: string, value: string])[];
  readonly stages: readonly (readonly [stage: string, figure: string])[];
  /** The job file's name, or why there is none. */
  readonly job: { readonly name: string } | { readonly unsaid: string };
}

const escapes: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&#39;',
};
const text = (words: string): string => words.replace(/[&<>"']/g, (c) => escapes[c]!);

const style = `
  body { font: 15px/1.5 system-ui, sans-serif; color: #1d1d1f; background: #fff; max-width: 60rem; margin: 2.5rem auto; padding: 0 1.5rem }
  h1 { font-size: 1.5rem; margin: 0 } h2 { font-size: 1.05rem; margin: 2.2rem 0 .6rem; border-bottom: 1px solid #bbb }
  .quiet { color: #5b5b60 } .number { font-family: ui-monospace, monospace; font-size: .93em }
  .first { border: 2px solid #1d1d1f; padding: .4rem 1.1rem; margin: 1.3rem 0 } .first dt { font-weight: 600 }
  dl { display: grid; grid-template-columns: 9rem 1fr; gap: .35rem 1rem; margin: .6rem 0 } dt { color: #5b5b60 } dd { margin: 0 }
  table { border-collapse: collapse; width: 100% } th, td { text-align: left; vertical-align: top; padding: .3rem .8rem .3rem 0; border-bottom: 1px solid #ddd }
  th { font-weight: 600; color: #5b5b60 } figure { margin: 0 } figure img { width: 100%; display: block; border: 1px solid #bbb }
  .three { display: grid; grid-template-columns: repeat(3, 1fr); gap: 1rem } .resting { color: #77777c; text-decoration: line-through }
  blockquote { margin: .6rem 0; padding-left: 1rem; border-left: 3px solid #bbb; white-space: pre-wrap } td.hash { word-break: break-all }
  @media (max-width: 40rem) { .three { grid-template-columns: 1fr } dl { grid-template-columns: 1fr } }
  @media print { body { margin: 0; max-width: none } h2 { break-after: avoid } }`;

const list = (rows: readonly (readonly [string, string])[]) =>
  `<dl>${rows.map(([what, value]) => `<dt>${text(what)}</dt><dd>${text(value)}</dd>`).join('')}</dl>`;

const table = (heads: readonly string[], rows: readonly (readonly string[])[]) =>
  `<table><thead><tr>${heads.map((h) => `<th scope="col">${text(h)}</th>`).join('')}</tr></thead><tbody>${rows
    .map((cells) => `<tr>${cells.map((c) => `<td>${c}</td>`).join('')}</tr>`)
    .join('')}</tbody></table>`;

/** The hand-over as one readable HTML page that needs nothing beside itself. What stands in names and notes is text, never markup. */
export function handOverPage(h: HandOver): string {
  const { alphaAndSpace: as } = h;
  const first = [
    ['Read it as', `${as.readAs}.`],
    ['Show it with', `${as.showWith}.`],
    ['Frames', h.frames],
    ['Rate', h.rate],
    ['Size', h.size],
    ['Files', h.files],
  ] as const;
  const rows = h.ledger.map((r) => {
    const name = `${'· '.repeat(r.depth)}${text(r.name)}`;
    return [
      r.resting ? `<span class="resting">${name}</span> (resting)` : name,
      text(r.what),
      text(r.changes.join(', ')) || '<span class="quiet">none</span>',
    ];
  });
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>${text(`${h.shot}: ${h.output}`)}</title><style>${style}</style></head><body><main>
<h1>${text(h.shot)}: ${text(h.output)}</h1>
<p class="quiet">Written ${text(h.finished)} with June Haze.</p>
<div class="first">${list(first)}</div>
${h.changedSince.length ? `<p><strong>Changed since it was written:</strong> ${text(h.changedSince.join(', '))}. The files are of then, and so is this page.</p>` : ''}
<h2>How far it is proved</h2>
<p><strong>${h.proof.proved ? 'Reads back as shown.' : 'Reads back otherwise.'}</strong> ${text(h.proof.words)}</p>
${list([['In the files', `${h.tags}.`], ['By', `${as.saidBy}.`], ...h.stages])}
${h.accepted.length ? `<p><strong>Accepted before it was written:</strong></p>${list(h.accepted)}` : ''}
<div class="three">${h.pictures
    .map(
      (p) =>
        `<figure><img src="${p.url}" alt="${text(p.title)}"><figcaption><strong>${text(p.title)}</strong><br><span class="quiet">${text(p.words)}</span></figcaption></figure>`,
    )
    .join('')}</div>
<h2>What it was made from</h2>
${table(
  ['Source', 'Frames', 'Its numbers are', 'Said by', 'Its files, as a hash'],
  h.sources.map((s) => [
    `<span class="number">${text(s.files)}</span>`,
    text(s.frames),
    text(s.space),
    text(s.confirmed),
    `<span class="number">${text(s.hash)}</span>`,
  ]),
)}
<h2>How it was put together</h2>
${table(['Row, from below', 'What it does', 'Changes'], rows)}
<h2>Colour</h2>
${list(h.colour)}
<h2>What the renderer says</h2>
${h.renderer ? `<blockquote>${text(h.renderer)}</blockquote>` : '<p class="quiet">Nobody noted anything.</p>'}
<h2>To make it again</h2>
${
  'name' in h.job
    ? `<p>The job file beside this page holds everything that the pixels depend on. Without the application: <span class="number">june run ${text(h.job.name)}</span></p>`
    : `<p>There is no job file. ${text(h.job.unsaid)}</p>`
}
</main></body></html>
`;
}
