import { useColorScheme } from '@mui/material/styles';

/** Whether the page is shown by day or by night, also where it follows the system. */
export function useScheme(): 'light' | 'dark' {
  const { mode, systemMode } = useColorScheme();
  return (mode === 'system' ? systemMode : mode) === 'dark' ? 'dark' : 'light';
}
