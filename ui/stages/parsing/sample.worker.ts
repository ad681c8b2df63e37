import { type SampleRequest, trySample } from './sample.ts';

self.addEventListener('message', (event: MessageEvent<{ readonly id: number; readonly request: SampleRequest }>) => {
  const { id, request } = event.data;
  try {
    self.postMessage({ id, answer: trySample(request) });
  } catch (error) {
    self.postMessage({ id, problem: error instanceof Error ? error.message : String(error) });
  }
});
