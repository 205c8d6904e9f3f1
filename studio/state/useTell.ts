import { App } from 'antd';
import { useMemo } from 'react';
import { Failure } from '../../core/units';

/** Says things at the edge of the screen: what happened, or what is wrong and what to do. */
export function useTell() {
  const { message, notification } = App.useApp();
  return useMemo(
    () => ({
      say: (text: string) => void message.info(text),
      fault: (error: unknown) => {
        const known = error instanceof Failure || (error instanceof Error && error.name === 'Unreachable');
        if (!known) console.error(error);
        notification.error({
          title: known ? (error as Error).message : 'Something went wrong on our side.',
          description: error instanceof Failure ? error.remedy : undefined,
          duration: 8,
        });
      },
    }),
    [message, notification],
  );
}
