'use client';
import { useMemo } from 'react';
import { Chart } from '../kit/Chart';
import { TOKENS } from '../theme/tokens';
import { useScheme } from '../theme/useScheme';
import { curveOption } from './curveOption';

/** The coverage curve. */
export function CurveChart(props: Parameters<typeof curveOption>[0]) {
  const scheme = useScheme();
  const option = useMemo(() => curveOption(props, TOKENS[scheme]), [props, scheme]);
  const at = (shares: readonly number[]) => ((shares[Math.round((props.threshold - props.from) / props.step)] ?? 0) * 100).toFixed(1);
  const then = props.other === null ? '' : `; ${props.other.name}: ${at(props.other.shares)} %`;
  return (
    <Chart option={option} label={`Coverage curve: ${at(props.shares)} % of the area at ${props.threshold} ${props.unit} ${props.better}${then}`} />
  );
}
