/**
 * Something a person can do: one object, from which the palette, the keys, the buttons, the menus and the list of keys come. `key` reads as
 * written: Ctrl+Z, Shift+A, 1; `alsoKeys` are other keys for the same.
 */
export type Action = Readonly<{
  id: string;
  title: string;
  key?: string;
  alsoKeys?: readonly string[];
  run: () => void;
  enabled?: () => boolean;
}>;
