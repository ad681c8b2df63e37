import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

/** A certificate and its key, as PEM. */
export interface Certificate {
  readonly cert: string;
  readonly key: string;
}

/**
 * The certificate for syslog over TLS: the one that two files hold, or else one of the engine's own, made once and kept
 * in `folder`. Senders that check certificates need the `syslog-cert.pem` from there.
 */
export async function certificateFor(folder: string, certFile: string, keyFile: string): Promise<Certificate> {
  if (certFile !== '') return { cert: readFileSync(certFile, 'utf8'), key: readFileSync(keyFile, 'utf8') };
  const files = { cert: join(folder, 'syslog-cert.pem'), key: join(folder, 'syslog-key.pem') };
  if (!existsSync(files.cert)) {
    // Loading it takes longer than all else of a start, and it is needed once.
    const { generate } = await import('selfsigned');
    const made = await generate([{ name: 'commonName', value: 'localhost' }], {
      algorithm: 'sha256',
      notAfterDate: new Date(Date.now() + 3_650 * 86_400_000),
    });
    mkdirSync(folder, { recursive: true });
    writeFileSync(files.key, made.private, { mode: 0o600 });
    writeFileSync(files.cert, made.cert);
  }
  return { cert: readFileSync(files.cert, 'utf8'), key: readFileSync(files.key, 'utf8') };
}
