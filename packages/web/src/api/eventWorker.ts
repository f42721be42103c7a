import { openStream } from './eventStream.ts';

// One stream of events for every tab; see eventStream.ts.
const ports = new Set<MessagePort>();
openStream((line) => ports.forEach((port) => port.postMessage(line)));

(self as unknown as { onconnect: (event: MessageEvent) => void }).onconnect = ({ ports: [port] }) => {
  ports.add(port!);
  // A tab that is closed without a word stays in the set; a message to it goes nowhere and costs nothing.
  port!.onmessage = ({ data }) => data === 'leave' && ports.delete(port!);
};
