'use client';

import { toast } from 'sonner';
import type { SourceAnswer } from '../../data/answers.ts';
import { Button } from '../../kit/button.tsx';

/** Where things are sent to. */
export type SetupPorts = Pick<SourceAnswer, 'intakePort' | 'syslogPort' | 'syslogTlsPort'>;

/** What to paste on a sender of that kind. Without a token a placeholder stands in its place. */
export function SetupSnippet(
  props: SetupPorts & { readonly kind: string; readonly name: string; readonly token?: string },
) {
  const text = snippet(props.kind, props.name, props.token ?? '<token>', props);
  if (text === '') return null;
  const copy = (): void => {
    void navigator.clipboard.writeText(text).then(() => toast('Copied.'));
  };
  return (
    <div>
      <pre tabIndex={0} className="line overflow-x-auto rounded-[5px] border border-hair bg-paper p-3">
        {text}
      </pre>
      <Button look="quiet" className="-ml-3" onClick={copy}>
        Copy
      </Button>
    </div>
  );
}

function snippet(kind: string, name: string, token: string, ports: SetupPorts): string {
  const { intakePort, syslogPort, syslogTlsPort } = ports;
  if (kind === 'syslog') {
    return [
      `logger --server 127.0.0.1 --port ${syslogPort} \\`,
      `  --udp --rfc5424 --tag ${name} \\`,
      '  "first event"',
      '# TCP: --tcp --octet-count, not --udp',
      `# TLS: port ${syslogTlsPort},`,
      '# certificate .data/syslog-cert.pem',
    ].join('\n');
  }
  if (kind === 'otlp') {
    return `OTEL_EXPORTER_OTLP_LOGS_ENDPOINT=http://127.0.0.1:${intakePort}/v1/logs\nOTEL_EXPORTER_OTLP_LOGS_HEADERS=\\\n  "authorization=Bearer ${token}"`;
  }
  if (kind !== 'http') return '';
  return `curl http://127.0.0.1:${intakePort}/intake/${name} \\\n  -H "Authorization: Bearer ${token}" \\\n  --data-binary '{"level":"info","msg":"first event"}'`;
}
