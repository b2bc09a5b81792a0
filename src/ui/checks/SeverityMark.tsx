import type { Severity } from '@/core/checks/finding';

export const SEVERITY_WORDS: Readonly<Record<Severity, string>> = { stop: 'stop', mend: 'mend', note: 'note' };

const octagon = (r: number): string =>
  Array.from({ length: 8 }, (_, i) => {
    const turn = ((i + 0.5) * Math.PI) / 4;
    return `${(r * Math.cos(turn)).toFixed(2)} ${(r * Math.sin(turn)).toFixed(2)}`;
  }).join('L');

/** A severity by its shape, with a number in it: a filled octagon stops, a diamond is to be mended, a circle is a note. Drawn about (0, 0). */
export function SeverityShape({
  severity,
  number,
  chosen = false,
  faint = false,
}: {
  severity: Severity;
  number: number;
  chosen?: boolean;
  faint?: boolean;
}) {
  const ink = chosen ? 'var(--hand)' : 'var(--ink)';
  const look = {
    fill: severity === 'stop' ? ink : 'var(--panel)',
    stroke: ink,
    strokeWidth: chosen ? 2.2 : 1.5,
    strokeDasharray: faint ? '2 2' : undefined,
  };
  return (
    <>
      {severity === 'stop' && <path d={`M${octagon(11)}Z`} {...look} />}
      {severity === 'mend' && <path d="M0 -13L13 0L0 13L-13 0Z" {...look} />}
      {severity === 'note' && <circle r={10.5} {...look} />}
      <text
        textAnchor="middle"
        dominantBaseline="central"
        fontSize={11.5}
        fontFamily="IBM Plex Mono, monospace"
        fill={severity === 'stop' ? 'var(--panel)' : ink}
        aria-hidden="true"
      >
        {number}
      </text>
    </>
  );
}

export const SeverityMark = (props: Parameters<typeof SeverityShape>[0]) => (
  <svg width={28} height={28} viewBox="-14 -14 28 28" role="img" aria-label={SEVERITY_WORDS[props.severity]}>
    <SeverityShape {...props} />
  </svg>
);
