'use client';

import { Input, Modal } from 'antd';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { Vantage } from '../../core/rig';
import { useListening } from '../viewport/mix/listening';
import { UNGRADED_KEY, keyText, type Command } from './commands';
import styles from './commands.module.css';

/** Keys that are felt, not listed as commands. */
const HANDS: [string, string][] = [
  ['W A S D', 'Walk; the arrow keys do too, Shift runs'],
  ['Drag', 'Turn about the point looked at; on foot, look about'],
  ['Right drag', 'Shift the view'],
  ['Right click', 'Stand where the picture was clicked'],
  ['Wheel', 'Go nearer to what is under the cursor'],
  ['Alt drag', 'From what casts a shadow to where it should fall: the sun follows'],
  ['Alt click', 'The sun shines along the line of sight onto that point'],
  ['Alt Shift drag or click', 'The same for the moon'],
  ['Click', 'Choose an object of the level, in the Bake and the Lamps room; Ctrl adds it or leaves it out'],
  ['Shift drag', 'Choose the objects within a rectangle; Ctrl adds them'],
  ['Drag a lamp', 'Move it; with Ctrl, a duplicate; X, Y, Z, L, S say along what'],
  ['1 held', 'Peek at a cue: let go and it comes back'],
  ['Q held', 'The picture without its grade: let go and it comes back'],
  ['Drag a label', 'Scrub its value, finer with Shift; double-click resets'],
  ['Right click a label', 'Its value at several steps, as pictures to choose from'],
];

/** A key held longer than this is a peek. */
const PEEK_MS = 400;

/** What a peek comes back to: the cue, and where it was looked at from. */
export interface Peeked {
  cueId: string;
  view: Vantage | null;
}

/** Binds all commands to their keys. A number key that is held peeks at its cue and comes back when let go. */
export function useCommandKeys(commands: () => Command[], peek: { current(): Peeked; back(from: Peeked): void }): void {
  const held = useRef<{ key: string; from: Peeked; at: number } | null>(null);
  useHotkeys(
    '*',
    (event) => {
      // What has the focus may have taken the key for itself.
      if (event.defaultPrevented || takesText(event.target as HTMLElement)) return;
      if (event.repeat && isHeldKey(event.key)) return;
      // Space presses the button that has the focus.
      if (event.key === ' ' && (event.target as HTMLElement).closest('button, a, label')) return;
      const command = commands().find((c) => c.keys && matches(c.keys, event));
      if (!command) return;
      event.preventDefault();
      if (isHeldKey(command.keys!)) held.current = { key: event.key, from: peek.current(), at: event.timeStamp };
      command.run();
    },
    // Sliders and switches have the focus after a click; keys belong to the studio there.
    { enableOnFormTags: true, preventDefault: false },
  );
  useEffect(() => {
    const up = (event: KeyboardEvent) => {
      const was = held.current;
      if (!was || event.key !== was.key) return;
      held.current = null;
      // By the events' own times: a slow picture between them must not turn a press into a peek.
      if (event.timeStamp - was.at <= PEEK_MS) return;
      if (was.key === UNGRADED_KEY) useListening.setState(({ ungraded }) => ({ ungraded: !ungraded }));
      else if (was.from.cueId !== peek.current().cueId) peek.back(was.from);
    };
    window.addEventListener('keyup', up);
    return () => window.removeEventListener('keyup', up);
  }, [peek]);
}

/** Keys that do something else when they are held: the cues', and the one that takes the grade off. */
const isHeldKey = (key: string) => /^[1-9]$/.test(key) || key === UNGRADED_KEY;

/** Whether typing goes into an element. */
function takesText(element: HTMLElement): boolean {
  if (element.isContentEditable || element.matches('textarea, select')) return true;
  return element instanceof HTMLInputElement && !['radio', 'checkbox', 'range', 'button'].includes(element.type);
}

function matches(keys: string, event: KeyboardEvent): boolean {
  const parts = keys.split('+');
  const key = parts.at(-1)!;
  const named: Record<string, string> = { period: '.', comma: ',', slash: '/', space: ' ' };
  const mod = event.ctrlKey || event.metaKey;
  if (mod !== parts.includes('mod') || event.altKey !== parts.includes('alt')) return false;
  if (keys === 'shift+slash') return event.key === '?';
  // Shift and Alt make other characters of the number keys, one keyboard's unlike another's.
  const pressed = (event.shiftKey || event.altKey) && /^Digit\d$/.test(event.code) ? event.code.slice(-1) : event.key.toLowerCase();
  return event.shiftKey === parts.includes('shift') && pressed === (named[key] ?? key);
}

/** The list of commands, searched by what they do. */
export function CommandList({ commands, onClose }: { commands: Command[]; onClose(): void }) {
  const [search, setSearch] = useState('');
  const [at, setAt] = useState(0);
  const found = useMemo(() => {
    const words = search.toLowerCase().split(/\s+/).filter(Boolean);
    return commands.filter((c) => words.every((w) => c.name.toLowerCase().includes(w)));
  }, [commands, search]);
  const chosen = Math.min(at, found.length - 1);
  const run = (command: Command | undefined) => {
    if (!command) return;
    onClose();
    command.run();
  };
  return (
    <Modal open onCancel={onClose} footer={null} closable={false} width={460} title={null} style={{ top: 120 }}>
      <Input
        autoFocus
        variant="borderless"
        size="large"
        placeholder="What would you like to do?"
        aria-label="Search the commands"
        value={search}
        onChange={(event) => {
          setSearch(event.target.value);
          setAt(0);
        }}
        onKeyDown={(event) => {
          if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
            event.preventDefault();
            setAt((chosen + (event.key === 'ArrowDown' ? 1 : -1) + found.length) % Math.max(1, found.length));
          }
          if (event.key === 'Enter') run(found[chosen]);
        }}
      />
      <ul className={styles.list} role="listbox" aria-label="Commands">
        {found.map((command, i) => (
          <li key={command.id} role="option" aria-selected={i === chosen} onMouseMove={() => setAt(i)} onClick={() => run(command)}>
            {command.name}
            {command.keys && <kbd>{keyText(command.keys)}</kbd>}
          </li>
        ))}
        {found.length === 0 && <li className={styles.none}>Nothing of that name.</li>}
      </ul>
    </Modal>
  );
}

/** All keys on one sheet. */
export function KeySheet({ commands, onClose }: { commands: Command[]; onClose(): void }) {
  const rows: [string, string][] = [...commands.flatMap((c): [string, string][] => (c.keys ? [[keyText(c.keys), c.name]] : [])), ...HANDS];
  return (
    <Modal open onCancel={onClose} footer={null} width={720} title="Keys">
      <dl className={styles.sheet}>
        {rows.map(([keys, name]) => (
          <div key={keys + name}>
            <dt>
              <kbd>{keys}</kbd>
            </dt>
            <dd>{name}</dd>
          </div>
        ))}
      </dl>
    </Modal>
  );
}
