'use client';
import { AppRouterCacheProvider } from '@mui/material-nextjs/v16-appRouter';
import CssBaseline from '@mui/material/CssBaseline';
import { ThemeProvider } from '@mui/material/styles';
import type { ReactNode } from 'react';
import { theme } from './theme';

export function Providers({ nonce, children }: { nonce: string | undefined; children: ReactNode }) {
  return (
    <AppRouterCacheProvider options={{ enableCssLayer: true, ...(nonce === undefined ? {} : { nonce }) }}>
      <ThemeProvider theme={theme} defaultMode="light">
        <CssBaseline />
        {children}
      </ThemeProvider>
    </AppRouterCacheProvider>
  );
}
