import { z } from 'zod';
import { useWalker } from './walker';

const KEY = 'upper-room.receiver.battery';
const leftSchema = z.number().min(0).max(1);

/** It is written when so much of it is used up, or it was changed. */
const WRITTEN = 0.005;

/** The receiver of this window goes on with what is left in its battery, also after a reload; returns the way to stop. */
export function rememberBattery(): () => void {
  try {
    const left = leftSchema.safeParse(JSON.parse(sessionStorage.getItem(KEY) ?? 'null'));
    if (left.success) useWalker.setState({ battery: left.data });
  } catch {
    // A browser that refuses its storage, or what nobody can read: it begins with a full one.
  }
  let written = useWalker.getState().battery;
  return useWalker.subscribe(({ battery }) => {
    if (battery === written || (Math.abs(battery - written) < WRITTEN && battery !== 0)) return;
    written = battery;
    try {
      sessionStorage.setItem(KEY, JSON.stringify(battery));
    } catch (error) {
      console.warn('The browser refuses its storage; what is left in the receiver’s battery is not remembered.', error);
    }
  });
}
