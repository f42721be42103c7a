import { Button } from 'antd';
import { useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { outputSettingsSchema } from '@june-haze/contract';
import { useShotChange } from '../../api/shots.ts';
import { useThisShot } from '../../frame/ShotFrame.tsx';
import { Look } from '../../viewer/Look.tsx';
import type { SightChoice } from '../../viewer/sights.ts';
import { JobButton } from './JobButton.tsx';
import { OutputCard } from './OutputCard.tsx';
import { OutputForm } from './OutputForm.tsx';
import { WriteAllButton } from './WriteAllButton.tsx';

/** A name that no output has: two of one name would write the same files. */
function freeName(taken: readonly string[]): string {
  for (let i = 1; ; i++) {
    const name = i === 1 ? 'master' : `master ${i}`;
    if (!taken.includes(name)) return name;
  }
}

/** What is written, for whom, in which space or view; and the proof that it was. */
export function OutputScreen() {
  const shot = useThisShot();
  const change = useShotChange();
  const [adding, setAdding] = useState(false);
  const [look, setLook] = useSearchParams();
  const lookedAt = shot.outputs.find((o) => o.id === look.get('look'));
  const main = useMemo((): SightChoice => ({ of: { kind: 'output', outputId: lookedAt?.id ?? '' } }), [lookedAt?.id]);
  const fresh = outputSettingsSchema.parse({
    name: freeName(shot.outputs.map((o) => o.name)),
    kind: 'exr',
    sampleType: 'half',
    compression: 'zip',
    firstFrame: shot.firstFrame,
    lastFrame: shot.lastFrame,
  });
  if (lookedAt)
    return (
      <Look
        key={lookedAt.id}
        shot={shot}
        stage={`output ${lookedAt.id}`}
        title={lookedAt.name}
        main={main}
        own={{ firstFrame: lookedAt.firstFrame, lastFrame: lookedAt.lastFrame }}
        onClose={() => setLook({})}
      />
    );
  return (
    <main className="column" style={{ flex: 1 }}>
      <div className="bar">
        <span className="strong">Outputs</span>
        <span className="quiet">files go below the output folder named at start</span>
        <span className="grow" />
        {shot.outputs.length > 1 && <WriteAllButton shot={shot} />}
        <JobButton shot={shot} />
        <Button size="small" type="primary" onClick={() => setAdding(true)}>
          Add output
        </Button>
      </div>
      <div className="scroll">
        {shot.outputs.map((output) => (
          <OutputCard key={output.id} shot={shot} output={output} onLook={() => setLook({ look: output.id })} />
        ))}
        {shot.outputs.length === 0 && (
          <div className="empty">
            No output yet. Add one: a linear EXR for the next department, or a picture through the viewing.
            <br />
            <Button style={{ marginTop: 14 }} onClick={() => setAdding(true)}>
              Add output
            </Button>
          </div>
        )}
      </div>
      <OutputForm
        title="Add output"
        open={adding}
        settings={fresh}
        shot={shot}
        onClose={() => setAdding(false)}
        onSave={(settings) =>
          change.mutate(
            { path: `/shots/${shot.id}/outputs`, method: 'POST', body: settings },
            { onSuccess: () => setAdding(false) },
          )
        }
      />
    </main>
  );
}
