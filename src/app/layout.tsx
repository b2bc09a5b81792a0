import type { Metadata } from 'next';
import '@fontsource/inter/400.css';
import '@fontsource/inter/600.css';
import '@fontsource/inter/700.css';
import '@fontsource/ibm-plex-mono/400.css';
import '@fontsource/ibm-plex-mono/600.css';
import '@fontsource/source-serif-4/400-italic.css';
import '@fontsource/source-serif-4/700.css';
import { headers } from 'next/headers';
import InitColorSchemeScript from '@mui/material/InitColorSchemeScript';
import { Providers } from '@/ui/theme/Providers';
import '@/ui/theme/global.css';

export const metadata: Metadata = { title: 'Upper Room', description: 'A workbench for wireless engineers', icons: { icon: '/mark.svg' } };

/** Each answer has a nonce of its own (proxy.ts): pages are made when they are asked for. */
export default async function Layout({ children }: { children: React.ReactNode }) {
  const nonce = (await headers()).get('x-nonce') ?? undefined;
  return (
    <html lang="en" suppressHydrationWarning>
      <body>
        <InitColorSchemeScript attribute="data-theme" defaultMode="light" nonce={nonce} />
        <Providers nonce={nonce}>{children}</Providers>
      </body>
    </html>
  );
}
