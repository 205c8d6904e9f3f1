import { useEffect } from 'react';
import { SwitchRow } from '../desk/SwitchRow';
import { useHeightTool, type DraggedHeight } from '../viewport/gestures/heightTool';

/** Lets a drag in the picture set a height, for as long as it is on and its section is open. */
export function DragHeightRow({ sets }: { sets: DraggedHeight }) {
  const on = useHeightTool((s) => s.sets === sets);
  useEffect(() => () => useHeightTool.setState((s) => (s.sets === sets ? { sets: null } : s)), [sets]);
  return (
    <SwitchRow
      label="Drag it in the picture"
      name={`Drag the ${sets} in the picture`}
      on={on}
      onChange={(next) => useHeightTool.setState({ sets: next ? sets : null })}
    />
  );
}
