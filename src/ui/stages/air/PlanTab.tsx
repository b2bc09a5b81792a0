'use client';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useMemo } from 'react';
import { againstPlan } from '@/core/air/againstPlan';
import { domainOf } from '@/core/design/design';
import { ssidsOf } from '@/core/design/ssids';
import { heardAt } from '@/core/fields/heard';
import { BANDS } from '@/core/radio/band';
import { emittersOf, floorScene } from '@/engine/scene';
import { SeverityMark } from '../../checks/SeverityMark';
import { useDocument } from '../../state/documentStore';
import type { Place } from '../../state/selectors';
import { useSession } from '../../state/sessionStore';
import { middleOf, scanChannels, setAir, useAir } from './airStore';

/** What was heard held against the plan. */
export function PlanTab({ place, ownerOf }: { place: Place; ownerOf: (bssid: string) => string | null }) {
  const design = useDocument((s) => s.design);
  const heard = useAir((s) => s.heard);
  const spot = useAir((s) => s.spot);
  const scan = useAir((s) => s.scan);
  const apId = useAir((s) => s.apId);
  const ignoreBelowDbm = useSession((s) => s.ignoreBelowDbm);
  const designed = useMemo(() => {
    const scene = floorScene(design, place.floor);
    const at = place.aps.find(({ id }) => id === apId) ?? spot ?? middleOf(place.floor.outline);
    return BANDS.flatMap((band) =>
      heardAt(scene.medium, emittersOf(design, place.around, [band]), { xM: at.xM, yM: at.yM, zM: scene.planeZM }, scene.receiver, -200, -200),
    )
      .filter(({ of }) => of.id !== apId)
      .map(({ of, channel, rssiDbm }) => ({ apId: of.id, name: of.name, channel, predictedDbm: rssiDbm }));
  }, [design, place, apId, spot]);
  const names = useMemo(() => ssidsOf(design).map(({ name }) => name), [design]);
  const found = useMemo(() => {
    const list = new Set(scanChannels(scan).map(({ band, channel }) => `${band}/${channel}`));
    return againstPlan(heard, designed, ownerOf, names, domainOf(place.project), ignoreBelowDbm, ({ band, primary }) =>
      list.has(`${band}/${primary}`),
    );
  }, [heard, designed, ownerOf, names, place.project, ignoreBelowDbm, scan]);
  if (heard.rounds < 2) return <p className="empty">Two rounds of the receiver are needed before something is missed: let the clock run.</p>;
  if (found.length === 0) return <p className="empty">What is heard here is as it was planned.</p>;
  return (
    <Table size="small" stickyHeader aria-label="Against the plan">
      <TableHead>
        <TableRow>
          {['', 'what', 'why', 'what to do'].map((head) => (
            <TableCell key={head}>{head}</TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {found.map((one, i) => (
          <TableRow key={one.key} hover className="wrapped">
            <TableCell>
              <SeverityMark severity={one.severity} number={i + 1} />
            </TableCell>
            <TableCell>
              <button
                type="button"
                className="plain"
                onClick={() => {
                  setAir({ picked: [...one.bssids] });
                  if (one.apId !== null) useSession.getState().set({ selection: { table: 'accessPoints', ids: [one.apId] } });
                }}
              >
                {one.title}
              </button>
            </TableCell>
            <TableCell>{one.reason}</TableCell>
            <TableCell>{one.advice}</TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}
