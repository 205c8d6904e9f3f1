import { Alert, Button } from 'antd';
import { placeLevelAs } from '../../core/rig';
import { AS_GLTF, placingName } from '../../core/units';
import { grouped } from '../desk/quantity';
import { useStudio } from '../state/context';
import { useRigEdit } from '../state/useRigEdit';

/** Says that a level seems to be in another unit, or to lie on its side, until somebody has said how it is. */
export function SeemsPlaced() {
  const changeRig = useRigEdit();
  const placing = useStudio((s) => s.rig.placing);
  const { seems, min, max } = useStudio((s) => s.level.summary);
  if (!seems || placing !== null) return null;
  const sides = max.map((v, c) => grouped(v - min[c]!)).join(' × ');
  const faults = [...(seems.metresPerUnit === 1 ? [] : [`measures ${sides} m`]), ...(seems.up === AS_GLTF.up ? [] : ['lies on its side'])];
  return (
    <Alert
      banner
      type="info"
      title={`Read in metres with Y up, the level ${faults.join(' and ')}: it seems to be in ${placingName(seems)}.`}
      action={
        <>
          <Button size="small" type="primary" onClick={() => changeRig(`Level in ${placingName(seems)}`, (r) => placeLevelAs(r, seems))}>
            Read it so
          </Button>{' '}
          <Button size="small" onClick={() => changeRig('Level in metres, Y up', (r) => placeLevelAs(r, AS_GLTF))}>
            It is right
          </Button>
        </>
      }
    />
  );
}
