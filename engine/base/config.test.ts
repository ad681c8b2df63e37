import { describe, expect, test } from 'vitest';
import { readConfig } from './config.ts';

const environment = (more: Readonly<Record<string, string>>): NodeJS.ProcessEnv => ({ NODE_ENV: 'test', ...more });
const needed = { DATABASE_URL: 'mysql://otter@127.0.0.1:3307/restless_otter' };

describe('the environment', () => {
  test('says where the engine listens and how much it keeps open', () => {
    expect(readConfig(environment({ ...needed, INTAKE_PORT: '5000', ENGINE_MEMORY: '2GB' }))).toMatchObject({
      intakePort: 5_000,
      memory: 2e9,
    });
  });

  test('may leave the memory open: a part of what the machine has is used', () => {
    const { memory } = readConfig(environment(needed));
    expect(memory).toBeGreaterThanOrEqual(3e8);
    expect(memory).toBeLessThanOrEqual(4e9);
  });

  test('has an engine warm up, or not', () => {
    expect([needed, { ...needed, WARM_UP: 'off' }].map((values) => readConfig(environment(values)).warmsUp)).toEqual([
      true,
      false,
    ]);
  });

  test.each<[Readonly<Record<string, string>>, string]>([
    [{}, 'DATABASE_URL is missing'],
    [{ ...needed, ENGINE_MEMORY: '2 minutes' }, 'ENGINE_MEMORY is an amount of at least 50MB'],
    [{ ...needed, ENGINE_MEMORY: '10MB' }, 'ENGINE_MEMORY is an amount of at least 50MB'],
    [{ ...needed, ENGINE_MEMORY: 'much' }, 'ENGINE_MEMORY is an amount of at least 50MB'],
    [{ ...needed, DISK_RESERVE: 'some' }, 'DISK_RESERVE is an amount'],
    [{ ...needed, SYSLOG_PORT: '70000' }, 'SYSLOG_PORT'],
    [{ ...needed, WARM_UP: 'no' }, 'WARM_UP is on or off'],
    [{ ...needed, OTLP_METRICS_URL: 'collector' }, 'OTLP_METRICS_URL is an address'],
    [{ ...needed, OTLP_METRICS_URL: 'file:///etc' }, 'OTLP_METRICS_URL is an address'],
  ])('%j is refused with the name of what is wrong', (values, reason) => {
    expect(() => readConfig(environment(values))).toThrow(reason);
  });
});
