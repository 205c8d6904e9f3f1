'use client';

import { AutoComplete } from 'antd';
import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import type { CityView } from '../../core/api';
import { api } from '../api/client';
import styles from '../desk/desk.module.css';

/** Finds a city by its name and takes its place: coordinates and clock. */
export function CityRow({ name, onTake }: { name: string; onTake(city: CityView): void }) {
  const [text, setText] = useState<string | null>(null);
  // What was looked for stays when the field is left: a click on what was found leaves it too.
  const [looked, setLooked] = useState('');
  const wanted = useDeferredValue(looked).trim();
  const found = useQuery({
    queryKey: ['cities', wanted],
    queryFn: () => api.cities(wanted),
    enabled: wanted.length > 1,
    staleTime: Infinity,
  });
  const cities = wanted.length > 1 ? (found.data ?? []) : [];
  const keyOf = (c: CityView) => `${c.name}, ${c.country} ${c.latitudeDeg}`;
  const none = found.error
    ? 'The search does not answer; type the numbers below.'
    : found.data?.length === 0
      ? 'No city begins so. Type latitude and longitude below.'
      : null;
  return (
    <div className={styles.pick}>
      <label htmlFor="city">Place</label>
      <AutoComplete
        id="city"
        size="small"
        style={{ width: 190 }}
        value={text ?? name}
        placeholder="A city"
        options={cities.map((c) => ({
          value: keyOf(c),
          label: (
            <span className={styles.twoEnds}>
              {c.name}
              <span>{c.country}</span>
            </span>
          ),
        }))}
        notFoundContent={wanted.length > 1 ? none : null}
        onFocus={() => {
          setText('');
          setLooked('');
        }}
        onBlur={() => setText(null)}
        onChange={(value: string) => {
          setText(value);
          setLooked(value);
        }}
        onSelect={(key: string) => {
          setText(null);
          onTake(cities.find((c) => keyOf(c) === key)!);
          (document.activeElement as HTMLElement | null)?.blur();
        }}
      />
    </div>
  );
}
