'use client';

import { Button } from 'antd';
import { useStudio, useStudioStore } from '../state/context';
import { useGoBack } from './useGoBack';
import styles from './history.module.css';

/** Over the picture while it shows an earlier revision. */
export function LookingBar() {
  const looking = useStudio((s) => s.looking);
  const store = useStudioStore();
  const goBack = useGoBack();
  if (!looking) return null;
  return (
    <p className={styles.looking} role="status">
      <span>The picture shows revision {looking.revision}.</span>
      <Button size="small" type="primary" onClick={() => goBack(looking)}>
        Go back to it
      </Button>
      <Button size="small" onClick={() => store.getState().look(null)}>
        Show the present
      </Button>
    </p>
  );
}
