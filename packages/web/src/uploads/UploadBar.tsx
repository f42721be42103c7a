import { Button, Progress } from 'antd';
import { uploadQueue, useUploadState } from './useUploads.ts';

const amount = (n: number) => (n >= 1e9 ? `${(n / 1e9).toFixed(2)} GB` : `${(n / 1e6).toFixed(1)} MB`);

/** How far a drop is: files, bytes, rate, time left, and a stop. */
export function UploadBar() {
  const state = useUploadState();
  if (state.stage === 'resting' || state.stage === 'done') return null;
  const left = state.bytesPerSecond > 0 ? (state.bytes - state.bytesDone) / state.bytesPerSecond : undefined;
  const sending = state.stage === 'sending';
  return (
    <div className="bar marked" role="status" data-testid="upload">
      <span>{sending ? 'Taking in' : state.stage === 'stopped' ? 'Stopped' : 'Failed'}</span>
      <span className="clip">{state.batch}</span>
      {sending && (
        <>
          <Progress
            size="small"
            style={{ width: 140 }}
            showInfo={false}
            aria-label="Share taken in"
            percent={state.bytes ? (100 * state.bytesDone) / state.bytes : 0}
          />
          <span className="number quiet">
            {state.filesDone} of {state.files} files, {amount(state.bytesDone)} of {amount(state.bytes)}
            {state.bytesPerSecond > 0 && `, ${amount(state.bytesPerSecond)}/s`}
            {left !== undefined && left > 1 && `, ${Math.ceil(left)} s left`}
          </span>
        </>
      )}
      {!sending && (
        <span className="quiet">{state.message ?? 'Drop the same files again to go on where it stopped.'}</span>
      )}
      <span className="grow" />
      <Button size="small" onClick={() => (sending ? uploadQueue.stop() : uploadQueue.rest())}>
        {sending ? 'Stop' : 'Close'}
      </Button>
    </div>
  );
}
