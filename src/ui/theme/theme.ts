'use client';
import { createTheme } from '@mui/material/styles';
import { TOKENS, type Tokens } from './tokens';

const palette = (t: Tokens) => ({
  background: { default: t.paper, paper: t.panel },
  text: { primary: t.ink, secondary: t.ink2 },
  primary: { main: t.hand, contrastText: t.onHand },
  secondary: { main: t.ink, contrastText: t.paper },
  divider: t.rule,
});

export const theme = createTheme({
  cssVariables: { colorSchemeSelector: 'data-theme' },
  colorSchemes: { light: { palette: palette(TOKENS.light) }, dark: { palette: palette(TOKENS.dark) } },
  typography: { fontFamily: 'Inter, sans-serif', fontSize: 13, button: { textTransform: 'none', fontWeight: 600 } },
  shape: { borderRadius: 4 },
  components: {
    MuiButton: { defaultProps: { size: 'small', disableElevation: true } },
    MuiButtonBase: { defaultProps: { disableRipple: true } },
    MuiTextField: { defaultProps: { size: 'small', variant: 'outlined' } },
    MuiTooltip: { defaultProps: { enterDelay: 500 } },
    MuiTableCell: {
      styleOverrides: {
        root: { padding: '3px 8px', borderColor: 'var(--rule)', fontSize: 12.5, whiteSpace: 'nowrap' },
        head: { color: 'var(--ink2)', background: 'var(--panel)', fontWeight: 500 },
      },
    },
    MuiPaper: { styleOverrides: { root: { backgroundImage: 'none' } } },
  },
});
