import type { Metadata } from 'next';
import '@fontsource/inter/400.css';
import '@fontsource/inter/600.css';
import '@fontsource/inter/700.css';
import '@fontsource/ibm-plex-mono/400.css';
import '@fontsource/ibm-plex-mono/600.css';
import '@fontsource/source-serif-4/400-italic.css';
import '@fontsource/source-serif-4/700.css';
import InitColorSchemeScript from '@mui/material/InitColorSchemeScript';
import { Providers } from '@/ui/theme/Providers';
import '@/ui/theme/global.css';

export const metadata: Metadata = { title: 'Upper Room', description: 'A workbench for wireless engineers', icons: { icon: '/mark.svg' } };

export default function Layout({ children }: { children: React.ReactNode }) {
  return (
    <html lang="en" suppressHydrationWarning>
      <body>
        <InitColorSchemeScript attribute="data-theme" defaultMode="light" />
        <Providers>{children}</Providers>
      </body>
    </html>
  );
}
