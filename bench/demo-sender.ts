import { readdirSync, readFileSync } from 'node:fs';

/** The process of this bench that sends the demo's traffic; throws where there is none. Linux only, as the bench is (proc(5)). */
export function demoSender(): number {
  const sender = readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .find((pid) => isChild(pid) && read(pid, 'cmdline').includes('.build/demo/main.js'));
  if (!sender) throw new Error('Nobody sends the traffic of the demo.');
  return Number(sender);
}

function isChild(pid: string): boolean {
  return new RegExp(`^PPid:\\s+${process.pid}$`, 'm').test(read(pid, 'status'));
}

/** Processes come and go while they are looked at. */
function read(pid: string, file: string): string {
  try {
    return readFileSync(`/proc/${pid}/${file}`, 'utf8');
  } catch {
    return '';
  }
}
