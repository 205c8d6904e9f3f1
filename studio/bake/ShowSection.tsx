import { Section } from '../desk/Section';
import { BAKED_VIEWS } from '../viewport/renderer/dataViews';
import { useListening } from '../viewport/mix/listening';
import { VIEWS, hintOf } from './looking';
import desk from '../desk/desk.module.css';
import styles from './bake.module.css';

/** Chooses what the picture shows. */
export function ShowSection({ baked }: { baked: boolean }) {
  const view = useListening((s) => s.view);
  return (
    <Section title="Show">
      <div className={styles.views} role="radiogroup" aria-label="What the picture shows">
        {VIEWS.map(({ value, label, hint }) => (
          <button
            key={value}
            type="button"
            role="radio"
            aria-checked={view === value}
            title={hint}
            disabled={!baked && (BAKED_VIEWS as readonly string[]).includes(value)}
            onClick={() => useListening.setState({ view: value })}
          >
            {label}
          </button>
        ))}
      </div>
      {view !== 'picture' && <p className={desk.text}>{hintOf(view)}.</p>}
    </Section>
  );
}
