import base from './playwright.config.ts';
export default { ...base, globalSetup: undefined, projects: undefined, workers: 1 };
