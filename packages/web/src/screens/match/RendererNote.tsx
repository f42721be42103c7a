import { Button, Input } from 'antd';
import { matchWording, wordingFits, wordingTitle, type ShotColour, type WordingRow } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { useEffect, useMemo, useState } from 'react';
import { useShotChange } from '../../api/shots.ts';

/** Rows that are told of what the words mean. */
const rowsTold = 3;
/** So long words rest before they are kept. */
const restMilliseconds = 600;

/** What a person read off the renderer, in its own words, and what that means in the shot's config. */
export function RendererNote({ shot, colour }: { shot: Shot; colour: ShotColour | undefined }) {
  const change = useShotChange();
  const { mutate } = change;
  const [text, setText] = useState(shot.match.note);
  useEffect(() => {
    if (text === shot.match.note) return;
    const timer = setTimeout(
      () => mutate({ path: `/shots/${shot.id}`, method: 'PATCH', body: { match: { note: text } } }),
      restMilliseconds,
    );
    return () => clearTimeout(timer);
  }, [text, shot.match.note, shot.id, mutate]);
  const rows = useMemo(
    () => (colour && text.trim() ? matchWording(text, colour).slice(0, rowsTold) : []),
    [colour, text],
  );
  const source = shot.sources.find((s) => s.id === shot.match.source);
  const use = (row: WordingRow) => {
    const { viewing, colour: key } = shot;
    mutate({
      path: `/shots/${shot.id}/match/apply`,
      method: 'POST',
      body: {
        configId: key.config,
        space: row.space ?? source?.declaredSpace ?? 'Linear Rec.709',
        display: row.display ?? viewing.display,
        view: row.view ?? viewing.view,
        look: row.look ?? viewing.look,
        exposure: row.exposure ?? viewing.exposure,
        black: viewing.black,
        white: viewing.white,
        gamma: row.gamma ?? viewing.gamma,
        lookFile: null,
      },
    });
  };
  const fits = (row: WordingRow) => row.score >= wordingFits;
  return (
    <section className="renderer-note" aria-label="What the renderer said">
      <div className="bar">
        <span className="strong">What the renderer said</span>
        <span className="quiet clip">space, display, view, look, exposure, gamma, in its own words</span>
      </div>
      <div className="inside">
        <Input.TextArea
          aria-label="What the renderer said"
          size="small"
          autoSize={{ minRows: 1, maxRows: 4 }}
          maxLength={4000}
          placeholder="for example: sRGB display, ACES 1.0 SDR view, exposure 0.5"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        {rows.map((row, i) => (
          <div key={i} className="wording-row">
            <span className="number">{row.score.toFixed(2)}</span>
            <span>
              <span className="strong">{wordingTitle(row)}</span> <span className="quiet">{row.why}</span>
            </span>
            {fits(row) && (
              <Button size="small" onClick={() => use(row)} title="Sets what these words say; the rest stays">
                Use
              </Button>
            )}
          </div>
        ))}
        {rows.length > 0 && !rows.some(fits) && (
          <p className="quiet">
            Nothing here fits these words. Is the renderer’s config in the Library and set for this shot?
          </p>
        )}
      </div>
    </section>
  );
}
