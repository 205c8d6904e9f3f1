import type { Metadata } from 'next';
import localFont from 'next/font/local';
import type { ReactNode } from 'react';
import { Frame } from '../studio';
import '../studio/theme/studio.css';

/** Titles are the pages' own: that of a project is known once the project is. */
export const metadata: Metadata = {
  description: 'Designs the light of a game level over the day.',
};

/** Each answer has a nonce of its own. */
export const dynamic = 'force-dynamic';

const archivo = localFont({
  src: '../node_modules/@fontsource-variable/archivo/files/archivo-latin-wdth-normal.woff2',
  variable: '--font-archivo',
  weight: '100 900',
  declarations: [{ prop: 'font-stretch', value: '62% 125%' }],
});

export default function Layout({ children }: { children: ReactNode }) {
  return (
    <html lang="en" className={archivo.variable}>
      <body>
        <Frame>{children}</Frame>
      </body>
    </html>
  );
}
