import { memo, useRef } from 'react';
import { MAX_IES, readIes, readProfile } from '../../core/lamps';
import { freeNumber, lampsOf, type Rig } from '../../core/rig';
import { readable } from '../desk/quantity';
import { Section } from '../desk/Section';
import { useTell } from '../state/useTell';
import type { ChangeRig } from '../state/useRigEdit';
import { PolarChart } from './PolarChart';
import desk from '../desk/desk.module.css';
import styles from './lamps.module.css';

/** Measured distributions of this project, read from IES files. */
export const ProfilesSection = memo(function ProfilesSection({ rig, edit }: { rig: Rig; edit: ChangeRig }) {
  const tell = useTell();
  const chooser = useRef<HTMLInputElement>(null);
  const used = new Set(
    [...lampsOf(rig), ...rig.fixtures.flatMap((f) => f.lamps)].map((l) => (l.shape.kind === 'measured' ? l.shape.profileId : '')),
  );
  const take = async (file: File) => {
    try {
      // A file may be of any size: what is more than may be read is refused with a word.
      const ies = await file.slice(0, MAX_IES * 4 + 4).text();
      readIes(ies);
      const name = file.name.replace(/\.ies$/i, '').slice(0, 60) || 'Profile';
      edit(`Profile ${name}`, (r) => {
        const taken = r.profiles.some((p) => p.name.toLowerCase() === name.toLowerCase());
        const free = freeNumber(name, r.profiles);
        r.profiles.push({ id: free.id, name: taken ? free.name : name, ies });
      });
    } catch (error) {
      tell.fault(error);
    }
  };
  return (
    <Section title="Profiles" note={rig.profiles.length === 0 ? 'none yet' : String(rig.profiles.length)} rare>
      {rig.profiles.map((profile) => {
        const { file, flux } = readProfile(profile);
        return (
          <div key={profile.id}>
            <div className={styles.thing}>
              <strong>{profile.name}</strong>
              <span>
                {file.edition}, type {file.type}, {readable(flux)} lm
              </span>
              {!used.has(profile.id) && (
                <button
                  type="button"
                  className={desk.quiet}
                  onClick={() =>
                    edit(`Took the profile ${profile.name} away`, (r) => void (r.profiles = r.profiles.filter((p) => p.id !== profile.id)))
                  }
                >
                  remove
                </button>
              )}
            </div>
            <PolarChart
              profiles={rig.profiles}
              lamp={{
                shape: { kind: 'measured', radiusM: 0, profileId: profile.id },
                output: { by: 'profile', gain: 1 },
                color: { by: 'hex', hex: '#ffffff' },
              }}
            />
            {file.remarks.map((remark) => (
              <p key={remark} className={desk.text}>
                {remark}
              </p>
            ))}
          </div>
        );
      })}
      <div className={desk.actions}>
        <button type="button" className={desk.quiet} onClick={() => chooser.current!.click()}>
          Load an IES file
        </button>
        <input
          ref={chooser}
          type="file"
          hidden
          accept=".ies,.IES"
          data-testid="ies-file"
          onChange={(event) => {
            const file = event.currentTarget.files?.[0];
            event.currentTarget.value = '';
            if (file) void take(file);
          }}
        />
      </div>
    </Section>
  );
});
