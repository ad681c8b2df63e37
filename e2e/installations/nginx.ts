import { type ChildProcess, spawn } from 'node:child_process';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { freePort } from '../../engine/testing/ports.ts';

/** An nginx of Debian's packages that writes its access lines to a file and over syslog. */
export interface Nginx {
  readonly url: string;
  readonly log: string;
  readonly stop: () => void;
}

/** Starts nginx with its files in a folder; its access lines also go to a syslog port on this machine. */
export async function startNginx(folder: string, syslogPort: string): Promise<Nginx> {
  const port = await freePort();
  const log = join(folder, 'access.log');
  mkdirSync(folder, { recursive: true });
  writeFileSync(
    join(folder, 'nginx.conf'),
    `daemon off; master_process off; pid ${folder}/nginx.pid; error_log stderr crit;
     events {}
     http {
       ${['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi'].map((name) => `${name}_temp_path ${folder}/${name};`).join(' ')}
       server {
         listen 127.0.0.1:${port};
         access_log ${log} combined;
         access_log syslog:server=127.0.0.1:${syslogPort},tag=wharf_web combined;
         location / { return 200 "ahoy"; }
         location /gone { return 404; }
       }
     }`,
  );
  const child: ChildProcess = spawn('/usr/sbin/nginx', ['-p', folder, '-c', join(folder, 'nginx.conf')], {
    stdio: 'ignore',
  });
  const url = `http://127.0.0.1:${port}`;
  for (let i = 0; i < 100; i++) {
    if (await fetch(url).catch(() => undefined)) break;
    await pause(50);
  }
  return { url, log, stop: () => child.kill('SIGTERM') };
}
