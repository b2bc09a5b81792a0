'use client';
import type { ReactNode } from 'react';
import { createPortal } from 'react-dom';

/** The bar over the plan in Building, where what is being drawn asks for its numbers: there it covers nothing of the plan. */
export const PLAN_BAR_ID = 'plan-bar';

export function InPlanBar({ children }: { children: ReactNode }) {
  const bar = document.getElementById(PLAN_BAR_ID);
  return bar === null ? null : createPortal(children, bar);
}
