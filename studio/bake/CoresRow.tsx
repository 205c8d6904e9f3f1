import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Select } from 'antd';
import { api } from '../api/client';
import desk from '../desk/desk.module.css';

/** How many cores of each machine bake, so that the others stay free for other work. */
export function CoresRow() {
  const client = useQueryClient();
  const { data } = useQuery({ queryKey: ['cores'], queryFn: api.cores });
  const use = useMutation({
    mutationFn: api.useCores,
    onSuccess: () => client.invalidateQueries({ queryKey: ['cores'] }),
  });
  const most = data?.most ?? 1;
  const options = [
    { value: 0, label: `all ${most}` },
    ...Array.from({ length: most - 1 }, (_, i) => ({ value: i + 1, label: `${i + 1} of ${most}` })),
  ];
  return (
    <>
      <div
        className={desk.pick}
        title="Cores of each machine that take parts of a bake; a change holds within seconds, also while one is at work"
      >
        <span id="cores">Cores</span>
        <Select
          aria-labelledby="cores"
          size="small"
          style={{ width: 100 }}
          disabled={!data}
          loading={use.isPending}
          value={data?.used && data.used < most ? data.used : 0}
          options={options}
          onChange={(v) => use.mutate(v === 0 ? null : v)}
        />
      </div>
      {use.error && <p className={desk.fault}>{use.error.message}</p>}
    </>
  );
}
