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
  const { seems = [], min, max } = useStudio((s) => s.level.summary);
  const [likeliest] = seems;
  if (!likeliest || placing !== null) return null;
  const sides = max.map((v, c) => grouped(v - min[c]!)).join(' × ');
  const faults = [
    ...(likeliest.placing.metresPerUnit === 1 ? [] : [`measures ${sides} m`]),
    ...(likeliest.placing.up === AS_GLTF.up ? [] : ['lies on its side']),
  ];
  return (
    <Alert
      banner
      type="info"
      title={`Read in metres with Y up, the level ${faults.join(' and ')}. It seems to be in ${seems.map((s) => placingName(s.placing)).join(', or ')}.`}
      action={seems
        .map(({ placing: as, ...proposed }, i) => (
          <Button
            key={placingName(as)}
            size="small"
            type={i === 0 ? 'primary' : 'default'}
            onClick={() => changeRig(`Level in ${placingName(as)}`, (r) => placeLevelAs(r, as, proposed))}
          >
            {`Read in ${placingName(as)}`}
          </Button>
        ))
        .concat(
          <Button key="right" size="small" onClick={() => changeRig('Level in metres, Y up', (r) => placeLevelAs(r, AS_GLTF))}>
            It is right
          </Button>,
        )}
    />
  );
}
