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
    MuiTabs: { styleOverrides: { root: { minHeight: 0 }, indicator: { height: 3, transition: 'none' } } },
    MuiTab: {
      styleOverrides: {
        root: {
          minHeight: 0,
          minWidth: 0,
          padding: '4px 8px',
          fontSize: 12.5,
          textTransform: 'none',
          color: 'var(--ink2)',
          opacity: 1,
          '&.Mui-selected': { color: 'var(--ink)', fontWeight: 700 },
        },
      },
    },
    MuiInputBase: {
      styleOverrides: { root: { font: 'inherit', color: 'inherit' }, input: { font: 'inherit', padding: 0, '&:not(textarea)': { height: 24 } } },
    },
    MuiNativeSelect: { styleOverrides: { select: { padding: '0 20px 0 0 !important', '&:focus': { background: 'none' } }, icon: { fontSize: 18 } } },
    MuiCheckbox: { defaultProps: { size: 'small', color: 'default' }, styleOverrides: { root: { padding: 2, color: 'var(--ink2)' } } },
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
