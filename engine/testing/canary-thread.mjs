import { parentPort, workerData } from 'node:worker_threads';

/** Sends a small delivery; returns the status of the answer and how long it took (milliseconds). */
async function deliver() {
  const started = performance.now();
  const answer = await fetch(workerData.address, {
    method: 'POST',
    headers: { authorization: `Bearer ${workerData.token}` },
    body: '{"msg":"all is well"}',
  });
  await answer.arrayBuffer();
  return { status: answer.status, wait: performance.now() - started };
}

let ending = false;
parentPort.once('message', () => {
  ending = true;
});

// The first one opens the connection; from then on waits are measured.
await deliver();
parentPort.postMessage('ready');
const deliveries = [];
do deliveries.push(await deliver());
while (!ending);
parentPort.postMessage(deliveries);
