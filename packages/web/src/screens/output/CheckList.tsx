import { Button } from 'antd';
import { keepsFromWriting, type Output, type PreCheckItem, type Shot } from '@june-haze/contract';
import { useShotChange } from '../../api/shots.ts';
import { ProofMark } from '../../proof/ProofMark.tsx';
import { Accept } from './Accept.tsx';

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
          <ProofMark state={keepsFromWriting(item) ? 'fails' : 'differs'} />
        </span>
      )}
      <span>
        {item.text} {item.mend && <Mend shot={shot} output={output} mend={item.mend} />}{' '}
        {item.weight === 'ask' && <Accept output={output} item={item} />}
      </span>
    </div>
  ));
}

function Mend({ shot, output, mend }: { shot: Shot; output: Output; mend: NonNullable<PreCheckItem['mend']> }) {
  const change = useShotChange();
  const put = () => {
    if (mend.settings)
      change.mutate({ path: `/outputs/${output.id}`, method: 'PUT', body: { ...output, ...mend.settings } });
    if (mend.source) change.mutate({ path: `/sources/${mend.source.id}`, method: 'PATCH', body: mend.source.change });
    if (mend.viewing) change.mutate({ path: `/shots/${shot.id}`, method: 'PATCH', body: { viewing: mend.viewing } });
  };
  return (
    <Button size="small" loading={change.isPending} onClick={put}>
      {mend.words}
    </Button>
  );
}
