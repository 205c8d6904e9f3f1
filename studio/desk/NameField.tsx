import styles from './desk.module.css';

/** The name of a thing in a list, which is changed where it stands; an empty one leaves it as it is. */
export function NameField({ name, onRename }: { name: string; onRename(name: string): void }) {
  return (
    <input
      // Another name from elsewhere takes the place of what is typed.
      key={name}
      className={styles.nameField}
      aria-label={`Name of ${name}`}
      defaultValue={name}
      maxLength={80}
      onBlur={(event) => {
        const next = event.currentTarget.value.trim();
        if (next && next !== name) onRename(next);
      }}
      onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
    />
  );
}
