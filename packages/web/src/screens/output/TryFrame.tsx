import { Button, InputNumber } from 'antd';
import { useMutation } from '@tanstack/react-query';
import { shareWords } from '@june-haze/core';
import {
  countOfFrames,
  isOneFile,
  mostTried,
  triedFrameSchema,
  type Output,
  type PreCheckItem,
  type Shot,
  type TriedFrame,
} from '@june-haze/contract';
import { useState } from 'react';
import { request } from '../../api/request.ts';
import { ProofMark } from '../../proof/ProofMark.tsx';
import { CheckList } from './CheckList.tsx';
import { codes, ThreePictures } from './ThreePictures.tsx';

/** A frame, or a second of a movie, through the whole of an output before it is written: how it reads back, how large it is and how long all would take. */
export function TryFrame({
  shot,
  output,
  items,
}: {
  shot: Shot;
  output: Output;
  items: readonly PreCheckItem[] | undefined;
}) {
  const blocked = items?.some((i) => i.weight === 'stop') === true;
  // What the pictures may show to be wrong, and one click puts right.
  const mends = items?.filter((i) => i.mend && i.weight !== 'note' && !i.accepted) ?? [];
  const [frame, setFrame] = useState(output.firstFrame);
  const tried = useMutation({
    mutationFn: async (count: number) => ({
      ...(await request(triedFrameSchema, `/outputs/${output.id}/try`, 'POST', { frame, count })),
      // Its pictures lie under one name, whatever frame was tried.
      at: Date.now(),
    }),
  });
  const second = Math.min(mostTried, Math.round(output.rate ?? shot.rate), output.lastFrame - frame + 1);
  const all = countOfFrames(output);
  const sheet = Math.min(mostTried, all, output.lastFrame - frame + 1);
  const buttonOf = (words: string, count: number) => (
    <Button
      size="small"
      disabled={blocked || (tried.isPending && tried.variables !== count)}
      loading={tried.isPending && tried.variables === count}
      onClick={() => tried.mutate(count)}
    >
      {words}
    </Button>
  );
  return (
    <section aria-label="Tried frame" className="tried">
      <div className="beside">
        <span className="strong" style={{ flex: 'none' }}>
          Try a frame
        </span>
        <InputNumber
          size="small"
          className="number"
          style={{ flex: 'none', width: 84 }}
          aria-label="Frame to try"
          controls={false}
          precision={0}
          min={0}
          value={frame}
          onChange={(v) => v !== null && setFrame(v)}
        />
        {buttonOf('Try it', 1)}
        {output.kind === 'movie' && second > 1 && buttonOf('Try a second', second)}
        {output.kind === 'sheet' && sheet > 1 && buttonOf(sheet < all ? `Try ${sheet} of them` : 'Try all', sheet)}
        {tried.error ? (
          <span role="alert">
            <ProofMark state="fails" /> {tried.error.message}
          </span>
        ) : tried.data ? (
          <Words tried={tried.data} output={output} />
        ) : (
          <span className="quiet">written aside, read back by its own tags, and thrown away</span>
        )}
      </div>
      {tried.data && tried.data.count > 1 && tried.data.whole && (
        <TriedWhole
          output={output}
          url={`/api/outputs/${output.id}/tried/whole/${tried.data.whole}?at=${tried.data.at}`}
        />
      )}
      {tried.data && mends.length > 0 && <CheckList shot={shot} output={output} items={mends} />}
      {tried.data && (
        <ThreePictures
          readBack={tried.data.readBack}
          picture={(name) => `/api/outputs/${output.id}/tried/${name}?at=${tried.data.at}`}
          words={
            <>
              frame <span className="number">{tried.data.frame}</span>, {shot.viewing.display} · {shot.viewing.view}
            </>
          }
        />
      )}
    </section>
  );
}

/** A tried movie or sheet as this browser shows it, which goes by its tags; no browser plays ProRes. */
function TriedWhole({ output, url }: { output: Output; url: string }) {
  if (output.kind === 'sheet')
    return (
      <div className="tried-whole">
        <img src={url} alt="Tried contact sheet" />
      </div>
    );
  if (output.codec === 'prores')
    return (
      <p className="quiet small beside">
        No browser plays ProRes; <a href={url}>keep it</a> to look at it elsewhere.
      </p>
    );
  return (
    <div className="tried-whole">
      <video src={url} controls loop muted autoPlay aria-label="Tried movie" />
    </div>
  );
}

/** How it reads back, and what the range would come to if all were alike. */
function Words({ tried, output }: { tried: TriedFrame; output: Output }) {
  const { readBack, clipping, count } = tried;
  const [milliseconds, bytes] = [tried.milliseconds / count, tried.bytes / count];
  const all = countOfFrames(output);
  return (
    <span role="status">
      <ProofMark state={readBack.proved ? 'proved' : 'differs'} />{' '}
      <span className="strong">{readBack.proved ? 'Would read back as shown' : 'Would read back otherwise'}</span>{' '}
      <span className="quiet">
        {readBack.judged || `largest difference ${codes(readBack.tagged.maxCode)}`}; {clippingWords(clipping)};{' '}
        {count > 1 && <>{count} frames, each </>}
        <span className="number">{(milliseconds / 1000).toFixed(2)}</span> s,{' '}
        <span className="number">{(bytes / 1e6).toFixed(2)}</span> MB. All <span className="number">{all}</span>
        {isOneFile(output) ? ': at most ' : ': about '}
        <span className="number">{Math.ceil((all * milliseconds) / 1000)}</span> s,{' '}
        <span className="number">{megabytes(all * bytes)}</span> MB.
      </span>
    </span>
  );
}

const megabytes = (bytes: number) => (bytes / 1e6).toFixed(bytes < 1e7 ? 1 : 0);

/** What of the frame the file cannot hold, in words. */
function clippingWords({ below, above, notFinite }: TriedFrame['clipping']): string {
  const said = [
    ...(above > 0 ? [`${shareWords(above)} of pixels cut off above`] : []),
    ...(below > 0 ? [`${shareWords(below)} below`] : []),
    ...(notFinite > 0 ? [`${shareWords(notFinite)} no finite number`] : []),
  ];
  return said.join(', ') || 'nothing is cut off';
}
