'use client';
import Button from '@mui/material/Button';
import InputBase from '@mui/material/InputBase';
import { useEffect, useRef, useState } from 'react';
import { LIMITS } from '@/core/design/limits';
import type { PointM } from '@/core/geometry/point';
import { M_PER_FT, type UnitSystem } from '@/core/units/length';
import { useDocument } from '../state/documentStore';
import type { Line } from './tools/machine';
import { boxEnd, lineEnd } from './tools/typed';

/** Numbers for the line being drawn: a digit typed on the plan begins here, Enter draws. Empty fields leave it to the pointer. */
export function TypedLine({ line, units, put }: { line: Line; units: UnitSystem; put: (m: PointM) => void }) {
  const first = useRef<HTMLInputElement>(null);
  const [one, setOne] = useState('');
  const [other, setOther] = useState('');
  const box = line.shape === 'box';
  const perUnit = units === 'us' ? M_PER_FT : 1;
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement;
      if (typing || event.ctrlKey || event.metaKey || event.altKey || !/^[\d.,]$/.test(event.key)) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      setOne(event.key);
      first.current?.focus();
    };
    // Before the keys of the page: a digit is a length here and not a lens.
    window.addEventListener('keydown', onKey, true);
    return () => window.removeEventListener('keydown', onKey, true);
  }, []);
  const draw = () => {
    const [a, b] = [one, other].map((text) => (text.trim() === '' ? null : Number(text.replace(',', '.'))));
    const lengthM = (a ?? Number.NaN) * perUnit;
    const secondOk = box ? (b ?? Number.NaN) * perUnit >= LIMITS.wallLengthM.min : b === null || Number.isFinite(b);
    if (!(lengthM >= LIMITS.wallLengthM.min && lengthM <= LIMITS.planSideM.max && secondOk)) {
      const needs = `${(LIMITS.wallLengthM.min / perUnit).toFixed(2)} to ${Math.round(LIMITS.planSideM.max / perUnit)} ${units === 'us' ? 'ft' : 'm'}`;
      useDocument
        .getState()
        .setNotice({ words: box ? `Width and depth must be ${needs}.` : `The length must be ${needs}, the angle a number of degrees.` });
      return;
    }
    put(box ? boxEnd(line, lengthM, b! * perUnit) : lineEnd(line, lengthM, b ?? null));
    setOne('');
    setOther('');
  };
  const field = (label: string, unit: string, value: string, onChange: (text: string) => void, ref?: React.Ref<HTMLInputElement>) => (
    <label>
      {label}{' '}
      <InputBase
        inputRef={ref}
        className="entry"
        slotProps={{ input: { className: 'mono', inputMode: 'decimal' } }}
        value={value}
        onChange={(event) => onChange(event.target.value)}
        onKeyDown={(event) => {
          if (event.key !== 'Enter') return;
          event.preventDefault();
          draw();
          (event.target as HTMLElement).blur();
        }}
      />{' '}
      {unit}
    </label>
  );
  const unit = units === 'us' ? 'ft' : 'm';
  return (
    <div className="typed" role="group" aria-label="Line being drawn">
      {field(box ? 'width' : 'length', unit, one, setOne, first)}
      {box ? field('depth', unit, other, setOther) : field('angle', '°', other, setOther)}
      <Button size="small" color="secondary" variant="outlined" onClick={draw}>
        Draw
      </Button>
      <span className="quiet">Esc ends, Shift keeps to 45°, Alt lets go of snapping</span>
    </div>
  );
}
