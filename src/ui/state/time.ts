const format = new Intl.DateTimeFormat(undefined, { dateStyle: 'short', timeStyle: 'medium' });

/** A moment in the reader's own time and way of writing. */
export const localTime = (iso: string): string => format.format(new Date(iso));
