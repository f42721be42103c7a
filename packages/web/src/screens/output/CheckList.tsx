import { Button } from 'antd';
import type { Output, PreCheckItem, Shot } from '@june-haze/contract';
import { useShotChange } from '../../api/shots.ts';
import { ProofMark } from '../../proof/ProofMark.tsx';

/** What a person should know before files are written; what can be put right at once has a button that does it. */
export function CheckList({ shot, output, items }: { shot: Shot; output: Output; items: readonly PreCheckItem[] }) {
  return items.map((item) => (
    <div key={item.text} className="check">
      {item.weight === 'note' ? (
        <span className="quiet" aria-hidden>
          –
        </span>
      ) : (
        <span style={{ paddingTop: 3 }}>
          <ProofMark state={item.weight === 'stop' ? 'fails' : 'differs'} />
        </span>
      )}
      <span>
        {item.text} {item.mend && <Mend shot={shot} output={output} mend={item.mend} />}
      </span>
    </div>
  ));
}

function Mend({ shot, output, mend }: { shot: Shot; output: Output; mend: NonNullable<PreCheckItem['mend']> }) {
  const change = useShotChange();
  const put = () => {
    if (mend.settings)
      change.mutate({ path: `/outputs/${output.id}`, method: 'PUT', body: { ...output, ...mend.settings } });
    if (mend.viewing) change.mutate({ path: `/shots/${shot.id}`, method: 'PATCH', body: { viewing: mend.viewing } });
  };
  return (
    <Button size="small" loading={change.isPending} onClick={put}>
      {mend.words}
    </Button>
  );
}
