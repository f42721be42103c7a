import { Button } from 'antd';
import { useMutation } from '@tanstack/react-query';
import { derivedLight, derivedLog, lutDisplay, plainLevels } from '@june-haze/core';
import { derivedAnswerSchema, type ApplyRow, type Shot } from '@june-haze/contract';
import { request } from '../../api/request.ts';

interface Props {
  readonly shot: Shot;
  /** No view that is known made the reference. */
  readonly wanted: boolean;
  readonly onUse: (row: ApplyRow) => void;
}

/** A view made from the reference itself, where no config at hand has the one that made it. */
export function DeriveView({ shot, wanted, onUse }: Props) {
  const derive = useMutation({
    mutationFn: () => request(derivedAnswerSchema, `/shots/${shot.id}/match/derive`, 'POST', {}),
  });
  const found = derive.data;
  const declared = shot.sources.find((s) => s.id === shot.match.source)?.declaredSpace ?? derivedLight;
  return (
    <div className="derive">
      <p>
        {wanted
          ? 'No view that is known made this picture. One can be derived from it: '
          : 'Without the config that made it, a view can be derived from the reference: '}
        <Button size="small" loading={derive.isPending} onClick={() => derive.mutate()}>
          Derive a view
        </Button>
      </p>
      {derive.error && (
        <p className="problem" role="alert">
          {derive.error.message}
        </p>
      )}
      {found && (
        <>
          <p role="status">
            {found.name} is in the Library, a view that takes {derivedLog}
            {found.used.length > 1 ? `, made from ${found.used.length} references` : ''}. On parts of the picture that
            it was not made from it lies <span className="number">{found.unseen.p95.toFixed(2)}</span> CIEDE2000 off for
            95 % of the pixels, where a matrix and curves alone lie{' '}
            <span className="number">{found.curvesAlone.p95.toFixed(2)}</span> off. The picture shows{' '}
            <span className="number">{(100 * found.coverage).toFixed(0)} %</span> of the colours within its span:
            elsewhere the view is drawn on, and other frames may differ there.
          </p>
          <p>
            Undone, where it is declared as a picture’s space, light comes back within{' '}
            <span className="number">{found.undoing.stops.toFixed(2)}</span> stops for 95 % of the colours;{' '}
            <span className="number">{(100 * found.undoing.cutOff).toFixed(1)} %</span> of them it cuts off, and what
            they were is gone.
          </p>
          {found.left.map((l) => (
            <p key={l} className="quiet">
              Left out: {l}
            </p>
          ))}
          <Button
            size="small"
            onClick={() =>
              onUse({
                display: lutDisplay,
                view: found.name,
                space: declared,
                configId: null,
                look: null,
                exposure: 0,
                ...plainLevels,
                gamma: 1,
                lookFile: null,
              })
            }
          >
            Set it as the viewing
          </Button>
        </>
      )}
    </div>
  );
}
