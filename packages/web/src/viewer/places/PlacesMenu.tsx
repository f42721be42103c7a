import { Button, Input, Popover, Tooltip } from 'antd';
import type { RememberedPlace, Shot } from '@june-haze/contract';
import { MapPin, X } from 'lucide-react';
import { useRef, useState } from 'react';
import { useShotChange } from '../../api/shots.ts';
import { useCommand } from '../../commands/registry.ts';
import { placeOf, viewOf, type Lying, type View } from '../geometry.ts';

interface Props {
  readonly shot: Shot;
  readonly view: View;
  readonly lying: Lying;
  /** The place that was gone to last, by name. */
  readonly last: string | null;
  readonly onGo: (view: View, last: string | null) => void;
}

/** Places in the shot's pictures that are kept by name: M keeps the one that is seen, G goes to the last one and back. */
export function PlacesMenu({ shot, view, lying, last, onGo }: Props) {
  const { places } = shot;
  const change = useShotChange();
  const [open, setOpen] = useState(false);
  /** Where the eye was before it went to a place. */
  const left = useRef<View>(undefined);
  const save = (next: readonly RememberedPlace[]) =>
    change.mutate({ path: `/shots/${shot.id}`, method: 'PATCH', body: { places: next } });
  const remember = () => {
    const name = freeName(places);
    left.current = undefined;
    save([...places, { name, ...placeOf(view, lying) }]);
    onGo(view, name);
  };
  const go = (place: RememberedPlace) => {
    if (!isAt(place, view, lying)) left.current = view;
    onGo(viewOf(place, lying.picture), place.name);
  };
  const goOrBack = () => {
    const place = places.find((p) => p.name === last) ?? places[0];
    if (!place) return;
    if (isAt(place, view, lying)) onGo(left.current ?? 'fit', place.name);
    else go(place);
  };
  const next = () => {
    const at = places.findIndex((p) => p.name === last);
    const place = places[(at + 1) % Math.max(1, places.length)];
    if (place) go(place);
  };
  useCommand({ name: 'Remember this place', keys: 'm', run: remember, enabled: places.length < 24 });
  useCommand({ name: 'Go to the remembered place, and back', keys: 'g', run: goOrBack, enabled: places.length > 0 });
  useCommand({ name: 'Go to the next remembered place', keys: 'shift+g', run: next, enabled: places.length > 1 });
  const content = (
    <div className="places">
      {places.map((place) => (
        <div key={place.name}>
          <PlaceName place={place} onName={(name) => save(places.map((p) => (p === place ? { ...p, name } : p)))} />
          <span className="number quiet">
            {Math.round(((place.scale * place.width) / lying.picture.width) * 100)} %
          </span>
          <Button size="small" onClick={() => go(place)}>
            Go
          </Button>
          <Button
            size="small"
            type="text"
            aria-label={`Forget ${place.name}`}
            icon={<X size={11} />}
            onClick={() => save(places.filter((p) => p !== place))}
          />
        </div>
      ))}
      <Button size="small" onClick={remember} disabled={places.length >= 24}>
        Remember this place (M)
      </Button>
      <div className="quiet small">G goes to the last one and back, Shift+G to the next.</div>
    </div>
  );
  return (
    <Popover
      trigger="click"
      placement="bottomRight"
      title="Remembered places"
      content={content}
      open={open}
      onOpenChange={setOpen}
    >
      <Tooltip title="Remembered places (M, G)">
        <Button size="small" aria-label="Remembered places" icon={<MapPin size={12} />}>
          {places.length > 0 && <span className="number">{places.length}</span>}
        </Button>
      </Tooltip>
    </Popover>
  );
}

function PlaceName({ place, onName }: { place: RememberedPlace; onName: (name: string) => void }) {
  const [typed, setTyped] = useState<string>();
  const done = () => {
    const name = typed?.trim();
    setTyped(undefined);
    if (name && name !== place.name) onName(name);
  };
  return (
    <Input
      size="small"
      aria-label="Name of the place"
      value={typed ?? place.name}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={done}
      onPressEnter={done}
      style={{ width: 150 }}
    />
  );
}

function freeName(places: readonly RememberedPlace[]): string {
  let n = places.length + 1;
  while (places.some((p) => p.name === `Place ${n}`)) n++;
  return `Place ${n}`;
}

/** Whether a place is under the eye, to a tenth of a pixel of the screen. */
function isAt(place: RememberedPlace, view: View, lying: Lying): boolean {
  const now = placeOf(view, lying);
  const there = viewOf(place, lying.picture);
  if (there === 'fit') return view === 'fit';
  const near = (a: number, b: number, side: number) => Math.abs(a - b) * side * there.scale < 0.1;
  return (
    Math.abs(there.scale - now.scale) < 1e-6 &&
    near(now.x, place.x, lying.picture.width) &&
    near(now.y, place.y, lying.picture.height)
  );
}
