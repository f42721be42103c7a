import { Button, Select } from 'antd';
import { builtinColour, type ShotColour } from '@june-haze/core';
import type { Shot, Source } from '@june-haze/contract';
import { useMemo, useRef, useState } from 'react';
import { z } from 'zod';
import { useShotColour } from '../../api/colour.ts';
import { useLibrary } from '../../api/library.ts';
import { useShotChange } from '../../api/shots.ts';
import { thumbnailUrl } from '../../api/thumbnail.ts';
import { useStored } from '../../viewer/useStored.ts';
import { SmallPicture } from '../../pictures/SmallPicture.tsx';

interface Props {
  readonly shot: Shot;
  readonly source: Source;
  readonly pass: string;
  readonly colour: ShotColour | undefined;
}

/** Views that a person marked, to come back to. */
const markedSchema = z.object({ marked: z.array(z.string()).default([]) });

interface Choice {
  readonly display: string;
  readonly view: string;
  readonly look: string | null;
}

/** The same frame through every view and look of a config, at the same exposure, to choose by eye: the shot's config, or another that is known. */
export function ViewsStrip({ shot, source, pass, colour }: Props) {
  const change = useShotChange();
  const strip = useRef<HTMLDivElement>(null);
  // Nothing chosen: the strip follows the shot's own config.
  const [chosen, setChosen] = useState<{ config: string | null }>();
  const of = chosen ? chosen.config : shot.colour.config;
  const isOwn = of === shot.colour.config;
  const { data: other } = useShotColour(isOwn ? builtinColour : { ...builtinColour, config: of });
  const shown = isOwn ? colour : other;
  const { viewing, match, workingSpace } = shot;
  const choices = useMemo(
    () => (shown ? choicesOf(shown, isOwn ? workingSpace : undefined) : []),
    [shown, isOwn, workingSpace],
  );
  const isSet = (c: Choice) =>
    isOwn && c.display === viewing.display && c.view === viewing.view && (c.look ?? '') === (viewing.look ?? '');
  const choose = (c: Choice) => {
    if (isOwn)
      change.mutate({ path: `/shots/${shot.id}`, method: 'PATCH', body: { viewing: { ...c, lookFile: null } } });
    else {
      setChosen(undefined);
      change.mutate({
        path: `/shots/${shot.id}/match/apply`,
        method: 'POST',
        body: { ...viewing, ...c, lookFile: null, configId: of, space: source.declaredSpace ?? workingSpace },
      });
    }
  };
  const [{ marked }, mark] = useStored(`june-haze-marked-views ${shot.id}`, markedSchema);
  const [onlyMarked, setOnlyMarked] = useState(false);
  const swapMark = (key: string) =>
    mark({ marked: marked.includes(key) ? marked.filter((m) => m !== key) : [...marked, key] });
  const keyOf = (c: Choice) => JSON.stringify([of, c.display, c.view, c.look]);
  const offered = choices.filter((c) => !onlyMarked || marked.includes(keyOf(c)));
  const walk = (by: number) => {
    const all = [...strip.current!.querySelectorAll('button')];
    const at = all.indexOf(document.activeElement as HTMLButtonElement);
    all[Math.min(all.length - 1, Math.max(0, at + by))]?.focus();
  };
  return (
    <div className="views">
      <div className="views-head">
        <ConfigChoice
          shot={shot}
          value={of}
          onChange={(config) => setChosen(config === shot.colour.config ? undefined : { config })}
        />
        <Button
          size="small"
          aria-pressed={onlyMarked}
          type={onlyMarked ? 'primary' : 'default'}
          disabled={!onlyMarked && !choices.some((c) => marked.includes(keyOf(c)))}
          onClick={() => setOnlyMarked(!onlyMarked)}
        >
          Only marked
        </Button>
        <span className="quiet small clip">arrow keys walk, M marks, Enter sets</span>
      </div>
      <div
        ref={strip}
        className="views-strip"
        role="group"
        aria-label="Views and looks: arrow keys walk, M marks, Enter sets"
        onKeyDown={(e) => {
          const at = (document.activeElement as HTMLElement).dataset.choice;
          if (e.key.toLowerCase() === 'm' && at !== undefined && !e.ctrlKey && !e.metaKey) {
            e.stopPropagation();
            swapMark(at);
          }
          const by = { ArrowRight: 1, ArrowLeft: -1 }[e.key];
          if (by === undefined) return;
          e.preventDefault();
          e.stopPropagation();
          walk(by);
        }}
      >
        {offered.map((c) => (
          <button
            key={keyOf(c)}
            data-choice={keyOf(c)}
            className={`plain${isSet(c) ? ' chosen' : ''}`}
            aria-pressed={isSet(c)}
            onClick={() => choose(c)}
          >
            <SmallPicture
              className="wide"
              src={thumbnailUrl(source, pass, match.frame, 128, {
                viewing: { ...viewing, ...c },
                exposed: true,
                config: isOwn ? undefined : of,
              })}
            />
            <span className="clip">
              {marked.includes(keyOf(c)) && <span aria-label="marked">● </span>}
              {[c.view, c.look].filter(Boolean).join(' · ')}
            </span>
            <span className="quiet clip">{c.display}</span>
          </button>
        ))}
      </div>
    </div>
  );
}

function choicesOf(colour: ShotColour, working: string | undefined): Choice[] {
  const looks = [null, ...colour.looks().map((l) => l.name)];
  return colour
    .displays(working)
    .flatMap(({ name: display, views }) => views.flatMap((view) => looks.map((look) => ({ display, view, look }))));
}

interface ConfigProps {
  readonly shot: Shot;
  readonly value: string | null;
  readonly onChange: (config: string | null) => void;
}

/** Whose views the strip shows; nothing to choose where only one config is known. */
function ConfigChoice({ shot, value, onChange }: ConfigProps) {
  const { data: library = [] } = useLibrary();
  const configs = library.filter((i) => i.kind === 'config');
  if (!configs.length) return null;
  const named = [{ id: null, name: 'built in' }, ...configs];
  return (
    <Select
      size="small"
      aria-label="Whose views are shown"
      value={value ?? ''}
      options={named.map(({ id, name }) => ({
        value: id ?? '',
        label: id === shot.colour.config ? `${name}, this shot’s` : name,
      }))}
      onChange={(id) => onChange(id || null)}
    />
  );
}
