import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Select } from 'antd';
import type { CoresChange } from '../../core/api';
import { api } from '../api/client';
import desk from '../desk/desk.module.css';

/** What is said of each number. */
const HINTS: Readonly<Record<keyof CoresChange, string>> = {
  used: 'Cores of each machine that take parts of a bake; a change holds within seconds, also while one is at work',
  byItself: 'How many of them a bake that begins by itself takes, so that the others stay free while you work',
};

/** How many cores of each machine bake, so that the others stay free for other work. */
export function CoresRow({ of, label }: { of: keyof CoresChange; label: string }) {
  const client = useQueryClient();
  const { data } = useQuery({ queryKey: ['cores'], queryFn: api.cores });
  const use = useMutation({
    mutationFn: api.useCores,
    onSuccess: () => client.invalidateQueries({ queryKey: ['cores'] }),
  });
  // Those that bake by themselves are some of those that bake at all.
  const most = Math.min(data?.most ?? 1, of === 'byItself' ? (data?.used ?? Infinity) : Infinity);
  const options = [
    { value: 0, label: `all ${most}` },
    ...Array.from({ length: most - 1 }, (_, i) => ({ value: i + 1, label: `${i + 1} of ${most}` })),
  ];
  const set = data?.[of] ?? most;
  return (
    <>
      <div className={desk.pick} title={HINTS[of]}>
        <span id={`cores-${of}`}>{label}</span>
        <Select
          aria-labelledby={`cores-${of}`}
          size="small"
          style={{ width: 100 }}
          disabled={!data}
          loading={use.isPending}
          value={set < most ? set : 0}
          options={options}
          onChange={(v) => use.mutate({ [of]: v === 0 ? null : v })}
        />
      </div>
      {use.error && <p className={desk.fault}>{use.error.message}</p>}
    </>
  );
}
