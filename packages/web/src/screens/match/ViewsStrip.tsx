import type { ShotColour } from '@june-haze/core';
import type { Shot, Source } from '@june-haze/contract';
import { useMemo, useRef } from 'react';
import { useShotChange } from '../../api/shots.ts';
import { thumbnailUrl } from '../../api/thumbnail.ts';
import { SmallPicture } from '../../pictures/SmallPicture.tsx';

interface Props {
  readonly shot: Shot;
  readonly source: Source;
  readonly pass: string;
  readonly colour: ShotColour | undefined;
}

/** The same frame through every view and look of the config, at the same exposure, to choose by eye. */
export function ViewsStrip({ shot, source, pass, colour }: Props) {
  const change = useShotChange();
  const strip = useRef<HTMLDivElement>(null);
  const { viewing, match } = shot;
  const choices = useMemo(() => {
    if (!colour) return [];
    const looks = colour.looks().map((l) => l.name);
    return colour
      .displays(shot.workingSpace)
      .flatMap(({ name: display, views }) =>
        views.flatMap((view) => [null, ...looks].map((look) => ({ display, view, look }))),
      );
  }, [colour, shot.workingSpace]);
  const isSet = (c: (typeof choices)[number]) =>
    c.display === viewing.display && c.view === viewing.view && (c.look ?? '') === (viewing.look ?? '');
  const choose = (c: (typeof choices)[number]) =>
    change.mutate({ path: `/shots/${shot.id}`, method: 'PATCH', body: { viewing: { ...c, lookFile: null } } });
  const walk = (by: number) => {
    const all = [...strip.current!.querySelectorAll('button')];
    const at = all.indexOf(document.activeElement as HTMLButtonElement);
    all[Math.min(all.length - 1, Math.max(0, at + by))]?.focus();
  };
  return (
    <div
      ref={strip}
      className="views-strip"
      role="group"
      aria-label="Views and looks: arrow keys walk, Enter sets"
      onKeyDown={(e) => {
        const by = { ArrowRight: 1, ArrowLeft: -1 }[e.key];
        if (by === undefined) return;
        e.preventDefault();
        e.stopPropagation();
        walk(by);
      }}
    >
      {choices.map((c) => (
        <button
          key={JSON.stringify(c)}
          className={`plain${isSet(c) ? ' chosen' : ''}`}
          aria-pressed={isSet(c)}
          onClick={() => choose(c)}
        >
          <SmallPicture
            className="wide"
            src={thumbnailUrl(source, pass, match.frame, 128, { viewing: { ...viewing, ...c }, exposed: true })}
          />
          <span className="clip">{[c.view, c.look].filter(Boolean).join(' · ')}</span>
          <span className="quiet clip">{c.display}</span>
        </button>
      ))}
    </div>
  );
}
