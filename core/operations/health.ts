import { object, string } from 'yup';
import { operation } from './operation.ts';
import { emittersQuery } from './requests/search.ts';
import { byName, emitterPlans, fleet, maintenanceId, maintenance as maintenanceShape } from './requests/sources.ts';

const ofSource = object({ source: string().max(200) });

export const emitterVolumes = operation({
  method: 'GET',
  path: '/api/emitters',
  summary: 'What sources and emitters sent in a window, the largest first.',
  failure: 'The emitters could not be read',
  permission: 'see',
  input: emittersQuery,
});

export const planEmitter = operation({
  method: 'PUT',
  path: '/api/emitters',
  summary: 'Retires an emitter, or says when it is expected.',
  failure: 'The emitter could not be changed',
  permission: 'operate',
  input: emitterPlans,
});

export const health = operation({
  method: 'GET',
  path: '/api/health',
  summary: 'The health of all sources and emitters.',
  failure: 'Health could not be read',
  permission: 'see',
  input: ofSource,
});

export const drift = operation({
  method: 'GET',
  path: '/api/drift',
  summary: 'What changed in what sources send, over a week.',
  failure: 'The changes could not be read',
  permission: 'see',
  input: ofSource,
});

export const fleets = operation({
  method: 'GET',
  path: '/api/fleets',
  summary: 'All fleets.',
  failure: 'The fleets could not be read',
  permission: 'see',
  input: object({}),
});

export const saveFleet = operation({
  method: 'PUT',
  path: '/api/fleets',
  summary: 'Adds a fleet, or changes the one of that name.',
  failure: 'The fleet is not valid',
  permission: 'operate',
  input: fleet,
});

export const removeFleet = operation({
  method: 'DELETE',
  path: '/api/fleets',
  summary: 'Removes a fleet; its sources stay.',
  failure: 'The fleet could not be removed',
  permission: 'operate',
  input: byName,
});

export const maintenance = operation({
  method: 'GET',
  path: '/api/maintenance',
  summary: 'All maintenance windows.',
  failure: 'The windows could not be read',
  permission: 'see',
  input: object({}),
});

export const announceMaintenance = operation({
  method: 'POST',
  path: '/api/maintenance',
  summary: 'Announces an absence, once or again and again.',
  failure: 'The maintenance is not valid',
  permission: 'operate',
  input: maintenanceShape,
  status: 201,
});

export const removeMaintenance = operation({
  method: 'DELETE',
  path: '/api/maintenance',
  summary: 'Takes a window out.',
  failure: 'The maintenance could not be removed',
  permission: 'operate',
  input: maintenanceId,
});
