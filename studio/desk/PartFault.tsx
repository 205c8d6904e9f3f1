import { Alert, Button } from 'antd';
import { Component, type ReactNode } from 'react';

/** Stands in for a part of the page that cannot be loaded or fails; the rest of the page goes on. */
export class PartFault extends Component<{ children: ReactNode }, { error: Error | null }> {
  override state: { error: Error | null } = { error: null };

  static getDerivedStateFromError(error: Error): { error: Error } {
    return { error };
  }

  override componentDidCatch(error: Error): void {
    if (!isUnloaded(error)) reportError(error);
  }

  override render(): ReactNode {
    const { error } = this.state;
    if (!error) return this.props.children;
    const why = isUnloaded(error) ? 'the connection is lost, or Basil was updated' : `a fault of Basil’s (${error.message})`;
    return (
      <Alert
        banner
        type="warning"
        role="alert"
        title={`This part of the page cannot be shown: ${why}. What you changed is kept.`}
        action={
          <Button size="small" onClick={() => location.reload()}>
            Reload the page
          </Button>
        }
      />
    );
  }
}

/** Whether code could not be fetched. */
const isUnloaded = ({ name }: Error) => name === 'ChunkLoadError';
