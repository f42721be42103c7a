import { createSHA256 } from 'hash-wasm';

async function hash(file: File): Promise<string> {
  const sha = await createSHA256();
  for (const reader = file.stream().getReader(); ;) {
    const { done, value } = await reader.read();
    if (done) return sha.digest('hex');
    sha.update(value);
  }
}

self.onmessage = ({ data: { file, port } }: MessageEvent<{ file: File; port: MessagePort }>) => {
  hash(file).then(
    (found) => port.postMessage({ hash: found }),
    (error: Error) => port.postMessage({ fault: error.message }),
  );
};
