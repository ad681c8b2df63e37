import { object, string } from 'yup';
import { operation } from './operation.ts';
import { emittersQuery } from './requests/search.ts';
import { byName, emitterPlans, fleet, maintenanceId, maintenance as maintenanceShape } from './requests/sources.ts';

const ofSource = object({ source: string().max(200) });

export const emitterVolumes = operation({
  method: 'GET',
  path: '/api/emitters',
  summary: 'Volume of sources and emitters in a window, largest first.',
  failure: 'The emitters could not be loaded',
  permission: 'see',
  input: emittersQuery,
});

export const planEmitter = operation({
  method: 'PUT',
  path: '/api/emitters',
  summary: 'Retires an emitter, or sets when it is expected back.',
  failure: 'The emitter could not be changed',
  permission: 'operate',
  input: emitterPlans,
});

export const health = operation({
  method: 'GET',
  path: '/api/health',
  summary: 'Health of all sources and emitters.',
  failure: 'Health could not be loaded',
  permission: 'see',
  input: ofSource,
});

export const drift = operation({
  method: 'GET',
  path: '/api/drift',
  summary: 'Changes in what sources send, over the last week.',
  failure: 'The changes could not be loaded',
  permission: 'see',
  input: ofSource,
});

export const fleets = operation({
  method: 'GET',
  path: '/api/fleets',
  summary: 'All fleets.',
  failure: 'The fleets could not be loaded',
  permission: 'see',
  input: object({}),
});

export const saveFleet = operation({
  method: 'PUT',
  path: '/api/fleets',
  summary: 'Creates or replaces a fleet.',
  failure: 'The fleet is not valid',
  permission: 'operate',
  input: fleet,
});

export const removeFleet = operation({
  method: 'DELETE',
  path: '/api/fleets',
  summary: 'Removes a fleet. Its sources are kept.',
  failure: 'The fleet could not be removed',
  permission: 'operate',
  input: byName,
});

export const maintenance = operation({
  method: 'GET',
  path: '/api/maintenance',
  summary: 'All maintenance windows.',
  failure: 'The maintenance windows could not be loaded',
  permission: 'see',
  input: object({}),
});

export const announceMaintenance = operation({
  method: 'POST',
  path: '/api/maintenance',
  summary: 'Creates a maintenance window, once or repeated.',
  failure: 'The maintenance window is not valid',
  permission: 'operate',
  input: maintenanceShape,
  status: 201,
});

export const removeMaintenance = operation({
  method: 'DELETE',
  path: '/api/maintenance',
  summary: 'Removes a maintenance window.',
  failure: 'The maintenance window could not be removed',
  permission: 'operate',
  input: maintenanceId,
});
