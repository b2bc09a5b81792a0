const toTheMinute = new Intl.DateTimeFormat(undefined, { dateStyle: 'short', timeStyle: 'short' });
const format = new Intl.DateTimeFormat(undefined, { dateStyle: 'short', timeStyle: 'medium' });

/** A moment in the reader's own time and way of writing. */
export const localTime = (iso: string): string => format.format(new Date(iso));

/** The same without seconds, where the day is what matters. */
export const localMinute = (iso: string): string => toTheMinute.format(new Date(iso));
