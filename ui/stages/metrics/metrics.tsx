export function Metrics() {
  return null;
}
