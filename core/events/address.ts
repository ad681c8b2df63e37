/** An IP address (IPv4, or IPv6 shortened as RFC 5952 says); undefined for any other text. */
export function readAddress(text: string): string | undefined {
  const address = text.trim().toLowerCase();
  if (/^(\d{1,3}\.){3}\d{1,3}$/.test(address)) {
    return address.split('.').every((part) => Number(part) <= 255) ? address : undefined;
  }
  if (!address.includes(':') || !/^[0-9a-f:.]+$/.test(address)) return undefined;
  return URL.canParse(`http://[${address}]/`) ? new URL(`http://[${address}]/`).hostname.slice(1, -1) : undefined;
}
