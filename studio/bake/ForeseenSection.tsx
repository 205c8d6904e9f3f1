import { Button } from 'antd';
import { sameJson } from '../../core/units';
import { grouped, logarithmic } from '../desk/quantity';
import { Section } from '../desk/Section';
import { useStudio } from '../state/context';
import { BakeNumber } from './BakeNumber';
import { PreflightGroups } from './PreflightGroups';
import { timeSpan } from './BakeProgress';
import { useLook } from './useLook';
import desk from '../desk/desk.module.css';

const BUDGET = logarithmic('MB', 16, 65536, { digits: 3 });

/** What a bake of the rig as it is would take, and what would spoil it: asked for by hand, and found by a worker. */
export function ForeseenSection() {
  const bake = useStudio((s) => s.rig.bake);
  const roles = useStudio((s) => s.rig.roles);
  const { found, looking, error, saved, ask } = useLook();
  const isOld = found !== null && !sameJson([found.bake, found.roles ?? []], [bake, roles]);

  return (
    <Section
      title="Before a bake"
      note={
        looking
          ? 'looking'
          : isOld
            ? 'of other settings or roles'
            : found
              ? `${grouped(found.lines.length)} ${found.lines.length === 1 ? 'remark' : 'remarks'}`
              : 'not looked yet'
      }
    >
      {found && (
        <dl className={desk.facts} data-old={isOld}>
          <dt>Time</dt>
          <dd>{timeSpan(found.estimate.seconds)}</dd>
          <dt>Memory</dt>
          <dd>{grouped(found.estimate.memoryMB)} MB</dd>
          <dt>Stored</dt>
          <dd>
            {grouped(found.estimate.storedMB)} MB, {grouped(found.estimate.storedPerCueMB, 1)} MB a cue
          </dd>
          <dt>Texels</dt>
          <dd>{grouped(found.estimate.texels)}</dd>
        </dl>
      )}
      <BakeNumber
        of="budgetMB"
        label="Budget"
        quantity={BUDGET}
        hint="Most that the stored stems are meant to come to; over it there is a remark"
        said={(v) => `budget of ${v} MB`}
      />
      {found && <PreflightGroups lines={found.lines} />}
      {found?.lines.length === 0 && <p className={desk.text}>Nothing was found that would spoil a bake.</p>}
      {error && <p className={desk.fault}>{error}</p>}
      <div className={desk.actions}>
        <Button size="small" loading={looking} disabled={!saved} onClick={() => ask(found?.needs?.box ?? null)}>
          {found ? 'Look again' : 'Look what it takes, and what would spoil it'}
        </Button>
      </div>
    </Section>
  );
}
