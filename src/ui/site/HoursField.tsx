'use client';
import type { Hours } from '@/core/spectrum/signal';
import { TextField } from '../inspector/fields';
import { hoursOf, hoursText } from './hours';

/** Hours of the day in which something is on. */
export const HoursField = ({ hours, onCommit }: { hours: Hours; onCommit: (hours: Hours) => void }) => (
  <TextField
    label="on from–to, h"
    value={hoursText(hours)}
    maxLength={60}
    mayBeEmpty
    problem={(text) => (hoursOf(text) === null ? 'Hours as 11:30–14:00, 16–17; nothing for always.' : null)}
    onCommit={(text) => onCommit(hoursOf(text) ?? [])}
  />
);
