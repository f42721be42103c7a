/** SHA-256 of a file in hexadecimal digits, by a worker that lives as long as the page. */
export function hashFile(file: File): Promise<string> {
  worker ??= new Worker(new URL('./hashWorker.ts', import.meta.url), { type: 'module' });
  const { port1, port2 } = new MessageChannel();
  return new Promise((resolve, reject) => {
    port1.onmessage = ({ data }: MessageEvent<{ hash?: string; fault?: string }>) => {
      port1.close();
      if (data.hash !== undefined) resolve(data.hash);
      else reject(new Error(`${file.name} cannot be read: ${data.fault}`));
    };
    worker!.postMessage({ file, port: port2 }, [port2]);
  });
}
let worker: Worker | undefined;
