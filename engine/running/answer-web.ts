import { apiServer } from '../api/server.ts';
import type { Runner } from './runner.ts';

/** Carries out what the web process asks for. */
export const answerWeb: Runner = {
  name: 'the internal API',
  start: async (services) => {
    const api = apiServer(services);
    await api.listen({ host: '127.0.0.1', port: services.config.enginePort });
    return { stop: () => Promise.resolve(api.close()) };
  },
};
