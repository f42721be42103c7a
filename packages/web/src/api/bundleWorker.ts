import { unpackBundle } from './bundles.ts';

self.onmessage = ({ data: { id, port } }: MessageEvent<{ id: string; port: MessagePort }>) => {
  unpackBundle(id).then(
    (files) =>
      port.postMessage(
        { files },
        [...new Set([...files.values()].map((bytes) => bytes.buffer))].filter((b) => b instanceof ArrayBuffer),
      ),
    (error: Error) => port.postMessage({ fault: error.message }),
  );
};
