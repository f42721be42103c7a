import { Dropdown } from 'antd';
import { passRoles, type PassRole } from '@june-haze/core';
import type { Shot, Source } from '@june-haze/contract';
import { ChevronDown } from 'lucide-react';
import { useShotChange } from '../../api/shots.ts';
import { thumbnailUrl } from '../../api/thumbnail.ts';
import { SmallPicture } from '../../pictures/SmallPicture.tsx';

/** A role in words: `diffuse-direct` reads "diffuse, direct". */
const roleWords = (role: string) => role.replace(/-(direct|indirect)$/, ', $1').replace('-', ' ');

interface Props {
  shot: Shot;
  source: Source;
  frame: number;
  onLook: (pass: string) => void;
}

/** The passes that were found, grouped by role, each with a picture. A role can be corrected; the correction is remembered. */
export function PassTiles({ shot, source, frame, onLook }: Props) {
  const change = useShotChange();
  const correct = (pass: string, role: PassRole) =>
    change.mutate({ path: `/sources/${source.id}/role`, method: 'PUT', body: { pass, role } });
  const order = (role: PassRole) => passRoles.indexOf(role);
  const passes = [...source.passes].sort((a, b) => order(a.role) - order(b.role) || a.name.localeCompare(b.name));
  return (
    <div>
      <span className="strong">Passes</span>{' '}
      <span className="quiet">
        grouped by what they are, from their names; data is shown stretched; a role that you correct is remembered for
        these names
      </span>
      <div className="passes">
        {passes.map((p) => (
          <div key={`${p.part}/${p.name}`} className="small" style={{ minWidth: 0 }}>
            <button className="plain" aria-label={`Look at ${p.name}`} onClick={() => onLook(p.name)}>
              <SmallPicture
                className="tile"
                src={thumbnailUrl(source, p.name, frame, 128, { viewing: shot.viewing })}
              />
            </button>
            <Dropdown
              trigger={['click']}
              menu={{
                selectedKeys: [p.role],
                items: passRoles.map((role) => ({ key: role, label: roleWords(role) })),
                onClick: ({ key }) => correct(p.name, key as PassRole),
                style: { maxHeight: 320, overflow: 'auto' },
              }}
            >
              <button
                className="plain role"
                aria-label={`Role of ${p.name}: ${roleWords(p.role)}`}
                title={p.channels.map((c) => `${c.name} ${c.type}`).join('\n')}
              >
                <span className="clip">{roleWords(p.role)}</span>
                <ChevronDown size={11} />
              </button>
            </Dropdown>
            <div className="number quiet clip" style={{ fontSize: 11 }}>
              {p.name}
            </div>
          </div>
        ))}
      </div>
    </div>
  );
}
