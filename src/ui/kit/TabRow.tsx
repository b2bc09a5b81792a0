'use client';
import Tab from '@mui/material/Tab';
import Tabs from '@mui/material/Tabs';

/** A row of tabs: one tab stop, arrow keys inside. `controls` is the id of the panel they change; `value` null where none is open. */
export function TabRow<T extends string>({
  label,
  tabs,
  value,
  controls,
  className,
  onChoose,
}: {
  label: string;
  tabs: ReadonlyArray<Readonly<{ id: T; label: string }>>;
  value: T | null;
  controls?: string;
  className?: string;
  onChoose: (id: T) => void;
}) {
  return (
    <Tabs aria-label={label} value={value ?? false} className={className}>
      {tabs.map((tab) => (
        <Tab key={tab.id} id={`tab-${tab.id}`} value={tab.id} label={tab.label} aria-controls={controls} onClick={() => onChoose(tab.id)} />
      ))}
    </Tabs>
  );
}
