import { App, InputNumber, Select } from 'antd';
import { useId, type ReactNode } from 'react';
import { Link } from 'react-router';
import type { Shot, ViewingChange } from '@june-haze/contract';
import { useShotColour } from '../api/colour.ts';
import { useLibrary } from '../api/library.ts';
import { useShotChange } from '../api/shots.ts';
import { changedMeanings } from './changedMeanings.ts';
import { KeepSetUp } from './KeepSetUp.tsx';
import { LevelField } from './LevelField.tsx';
import { LookField } from './LookField.tsx';
import { LookFileSelect } from './LookFileSelect.tsx';
import { VariableField } from './VariableField.tsx';

/** A shot's config, working space and viewing. None of it changes stored sources. */
export function ColourSettings({ shot }: { shot: Shot }) {
  const change = useShotChange();
  const { notification } = App.useApp();
  const { data: colour, error } = useShotColour(shot.colour);
  const { data: library = [] } = useLibrary();
  const { viewing, workingSpace } = shot;
  const send = (body: object) => change.mutate({ path: `/shots/${shot.id}`, method: 'PATCH', body });
  const see = (viewing: ViewingChange) => send({ viewing });

  // A variable that a person gave a value stands above the config's own default.
  const given = shot.colour.variables;
  const variables = colour?.config?.variables() ?? [];
  const setVariable = (name: string, text: string, refused: () => void) => {
    const others = Object.entries(given).filter(([key]) => key !== name);
    const variables = Object.fromEntries(text === '' ? others : [...others, [name, text]]);
    change.mutate({ path: `/shots/${shot.id}`, method: 'PATCH', body: { variables } }, { onError: refused });
  };

  const work = (name: string) => {
    send({ workingSpace: name });
    const touched = changedMeanings(shot.ledger.document);
    if (touched.length > 0)
      notification.warning({
        title: `${name} from now on`,
        description: `Sources keep their declared spaces. These entries hold numbers per channel, which are other colours now: ${touched.join(', ')}.`,
        duration: 12,
      });
  };

  const displays = colour?.displays(workingSpace) ?? [];
  const views = displays.find((d) => d.name === viewing.display)?.views ?? [];
  const spaces = colour?.spaces() ?? [];
  const configs = library.filter((i) => i.kind === 'config');
  const nameOf = (i: { name: string; version: number }) => (i.version > 1 ? `${i.name} · ${i.version}` : i.name);

  return (
    <div className="colour-settings">
      <Row label="Config">
        {(id) => (
          <Select
            id={id}
            size="small"
            value={shot.colour.config ?? ''}
            options={[
              { value: '', label: 'built in' },
              ...configs.map((c) => ({ value: c.id, label: nameOf(c), title: c.facts.about })),
            ]}
            onChange={(value) => send({ config: value || null })}
          />
        )}
      </Row>
      {error && <p className="problem">{error.message}</p>}
      {variables.map(({ name, value }) => (
        <Row key={name} label={`$${name}`}>
          {(id) => (
            <VariableField
              id={id}
              key={`${shot.colour.config} ${given[name]}`}
              given={given[name] ?? ''}
              value={value}
              onChange={(text, refused) => setVariable(name, text, refused)}
            />
          )}
        </Row>
      ))}
      <Row label="Working space">
        {(id) => (
          <Select
            id={id}
            size="small"
            showSearch
            value={workingSpace}
            options={spaces
              .filter((s) => !s.isData)
              .map((s) => ({
                value: s.name,
                label: s.linear ? s.name : `${s.name} (not linear)`,
                title: s.linear ? s.about : 'Light can only be summed in a linear space.',
                disabled: !s.linear,
              }))
              .sort((a, b) => Number(a.disabled) - Number(b.disabled))}
            onChange={work}
          />
        )}
      </Row>
      <p className="quiet small">Sums are made in it. Sources keep their declared spaces.</p>
      <Row label="Display">
        {(id) => (
          <Select
            id={id}
            size="small"
            value={viewing.display}
            options={displays.map((d) => ({ value: d.name, label: d.name }))}
            onChange={(display: string) => {
              const offered = displays.find((d) => d.name === display)?.views ?? [];
              see({ display, view: offered.includes(viewing.view) ? viewing.view : (offered[0] ?? viewing.view) });
            }}
          />
        )}
      </Row>
      <Row label="View">
        {(id) => (
          <Select
            id={id}
            size="small"
            value={viewing.view}
            options={views.map((v) => ({ value: v, label: v }))}
            onChange={(view: string) => see({ view })}
          />
        )}
      </Row>
      {colour && colour.looks().length > 0 && (
        <Row label="Look">
          {(id) => (
            <LookField
              id={id}
              value={viewing.look}
              names={colour.looks().map((l) => l.name)}
              unset="the view’s own"
              none="none"
              onChange={(look) => see({ look })}
            />
          )}
        </Row>
      )}
      <Row label="Look file">
        {(id) => <LookFileSelect id={id} value={viewing.lookFile} onChange={(lookFile) => see({ lookFile })} />}
      </Row>
      <Row label="Exposure">
        {(id) => (
          <InputNumber
            id={id}
            size="small"
            min={-20}
            max={20}
            step={0.1}
            suffix="stops"
            value={viewing.exposure}
            onChange={(v) => v !== null && see({ exposure: v })}
          />
        )}
      </Row>
      <Row label="Black, white">
        {(id) => (
          <div className="two-fields">
            <LevelField
              id={id}
              label="Code that becomes 0"
              value={viewing.black}
              onChange={(black) => see({ black })}
            />
            <LevelField label="Code that becomes 1" value={viewing.white} onChange={(white) => see({ white })} />
          </div>
        )}
      </Row>
      <Row label="Gamma">
        {(id) => (
          <InputNumber
            id={id}
            size="small"
            min={0.1}
            max={10}
            step={0.05}
            value={viewing.gamma}
            onChange={(v) => v !== null && see({ gamma: v })}
          />
        )}
      </Row>
      <KeepSetUp shot={shot} />
      <p className="quiet small">
        Shown only, not written, unless an output says so. Configs, LUTs and CDLs lie in the{' '}
        <Link to="/library">Library</Link>.
      </p>
    </div>
  );
}

function Row({ label, children }: { label: string; children: (id: string) => ReactNode }) {
  const id = useId();
  return (
    <>
      <label htmlFor={id}>{label}</label>
      {children(id)}
    </>
  );
}
