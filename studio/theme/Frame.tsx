'use client';

import { AntdRegistry } from '@ant-design/nextjs-registry';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { App, ConfigProvider } from 'antd';
import { useState, type ReactNode } from 'react';
import { studioTheme } from './theme';

/** What every page stands in: the theme, messages, and the cache of what the server said. */
export function Frame({ children }: { children: ReactNode }) {
  const [client] = useState(() => new QueryClient({ defaultOptions: { queries: { retry: 2, staleTime: 1000 } } }));
  return (
    <AntdRegistry>
      <ConfigProvider theme={studioTheme} wave={{ disabled: true }}>
        <App notification={{ placement: 'bottomRight' }}>
          <QueryClientProvider client={client}>{children}</QueryClientProvider>
        </App>
      </ConfigProvider>
    </AntdRegistry>
  );
}
