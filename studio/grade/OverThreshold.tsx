import { setGlow, shownGlow, type Lighting } from '../../core/rig';
import { glowOf } from '../../core/roles';
import { luminance, whiteLuminance } from '../../core/units';
import { ActionRow } from '../desk/ActionRow';
import { NumberRow } from '../desk/NumberRow';
import { linear, readable } from '../desk/quantity';
import { glowRows } from '../lamps/glowRows';
import { calledObjects } from '../objects/objectChoice';
import { useStudio } from '../state/context';
import { useRigEdit } from '../state/useRigEdit';
import { useView } from '../viewport/viewStore';
import desk from '../desk/desk.module.css';

const SHOWN = linear('EV', -12, 4, 0.1, 1);
/** Stops under bloom's threshold at which a lowered material stands: its shape is seen, and still bright. */
const UNDER_EV = 0.5;

/** The glowing materials that bloom spreads, each with what it is shown at; those that were changed stay listed. */
export function OverThreshold({ lighting, ev100, overEv }: { lighting: Lighting; ev100: number; overEv: number }) {
  const glows = useView((s) => s.glows)?.() ?? [];
  const rules = useStudio((s) => s.rig.glows);
  const change = useRigEdit();
  const rows = glowRows(glows, rules)
    .map(({ material, rule, own }) => {
      const objects = rule?.objects ?? null;
      const glow = glowOf(lighting.glows, { material, object: objects?.[0] ?? '', copy: null });
      const level = own?.luminance ?? 0;
      const now = luminance(shownGlow(glow, lighting.circuits, [level, level, level]));
      const ev = rule?.shownEv ?? 0;
      return {
        name: objects ? `${material}, ${calledObjects(objects)}` : material,
        material,
        objects,
        now,
        ev,
        over: now > 0 ? Math.log2(now / whiteLuminance(ev100)) - overEv : -Infinity,
      };
    })
    .filter(({ over, ev }) => over > 0 || ev !== 0);
  const set = ({ name, material, objects }: (typeof rows)[number], ev: number) =>
    change(`${name}: shown ${SHOWN.format(ev)} EV`, (r) => setGlow(r, material, objects, { shownEv: SHOWN.snap(ev) }), `shown ${name}`);
  const tooBright = rows.filter(({ over }) => over > 0);
  if (rows.length === 0) return <p className={desk.text}>No glowing material is over the threshold.</p>;
  return (
    <>
      {rows.map((row) => (
        <div key={row.name}>
          <NumberRow
            label={row.name}
            value={row.ev}
            preset={0}
            quantity={SHOWN}
            hint="Stops by which it is shown brighter than it lights, in every cue. The light that it gives stays."
            onChange={(v) => set(row, v)}
          />
          <p className={desk.text}>
            {readable(row.now)} cd/m² is seen, {row.over > 0 ? `${row.over.toFixed(1)} EV over the threshold` : 'under the threshold'}
          </p>
        </div>
      ))}
      {tooBright.length > 0 && (
        <ActionRow
          label={tooBright.length === 1 ? 'Its shape is lost in bloom' : `The shapes of ${tooBright.length} are lost in bloom`}
          action="lower under the threshold"
          onClick={() =>
            change('Glowing materials shown under the threshold', (r) => {
              for (const { material, objects, ev, over } of tooBright)
                setGlow(r, material, objects, { shownEv: SHOWN.snap(Math.max(-12, ev - over - UNDER_EV)) });
            })
          }
        />
      )}
    </>
  );
}
