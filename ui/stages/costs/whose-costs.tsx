import { useQuestion } from '../../data/client.ts';
import { Select } from '../../kit/select.tsx';

/** Chooses a team whose costs alone are shown, or (an empty text) everybody's. The choice is in the address. */
export function WhoseCosts({ team, onChange }: { readonly team: string; readonly onChange: (team: string) => void }) {
  const { data } = useQuestion('costs', { by: 'team' }, 60_000);
  const teams = new Set(data?.rows.flatMap(({ keys: [key = ''] }) => (key === '' ? [] : [key])));
  if (team !== '') teams.add(team);
  if (teams.size === 0) return null;
  return (
    <Select
      label="Whose costs"
      isLabelHidden
      value={team}
      onChange={onChange}
      options={[
        { value: '', title: 'everybody’s' },
        ...[...teams].sort().map((name) => ({ value: name, title: `team ${name}` })),
      ]}
    />
  );
}
