import { Button } from 'antd';
import { openedCopy, type Rig } from '../../core/rig';
import { Section } from '../desk/Section';
import { closeCopy } from './lampTool';
import desk from '../desk/desk.module.css';

/** Says which copy of a fixture is open, and closes it. */
export function OpenCopy({ rig, openId }: { rig: Rig; openId: string }) {
  const { copy, fixture } = openedCopy(rig, openId)!;
  const others = rig.placed.filter((p) => p.fixtureId === fixture.id).length - 1;
  return (
    <Section title={`${copy.name} is open`} note={others === 0 ? 'the only copy' : `${others} more follow`}>
      <p className={desk.text}>
        Lamps are placed, moved, aimed and taken away in {fixture.name} itself{others > 0 ? ', at all its copies at once' : ''}.
      </p>
      <div className={desk.actions}>
        <Button size="small" type="primary" onClick={closeCopy}>
          Close it
        </Button>
      </div>
    </Section>
  );
}
