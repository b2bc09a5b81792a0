'use client';
import Close from '@mui/icons-material/Close';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { useId } from 'react';
import { v7 as uuid } from 'uuid';
import type { Ssid } from '@/core/design/design';
import { LIMITS } from '@/core/design/limits';
import { SSID_OCTETS } from '@/core/design/kinds/project';
import { addSsid, editSsid, removeSsid } from '@/core/design/ssids';
import { BANDS, type Band } from '@/core/radio/band';
import { Field, TextField } from '../../inspector/fields';
import { Choice } from '../../kit/Choice';
import { useDocument } from '../../state/documentStore';

/** Every choice of bands: one, two, all. */
const CHOICES: ReadonlyArray<readonly Band[]> = [[...BANDS], ['2.4'], ['5'], ['6'], ['2.4', '5'], ['5', '6'], ['2.4', '6']];
const keyOf = (bands: readonly Band[]): string => BANDS.filter((band) => bands.includes(band)).join(' and ');

/** The network names and in which bands each is announced. */
export function SsidFields({ ssids }: { ssids: readonly Ssid[] }) {
  const { run } = useDocument.getState();
  return (
    <>
      {ssids.map((ssid, i) => (
        <SsidRows key={ssid.id} ssid={ssid} number={i + 1} />
      ))}
      {ssids.length === 0 && <p>Nobody has said which network names (SSIDs) there are.</p>}
      {ssids.length < LIMITS.ssids && (
        <div className="row">
          <Button size="small" color="secondary" onClick={() => run('Add a network name', (design) => addSsid(design, uuid()))}>
            Add a network name
          </Button>
        </div>
      )}
    </>
  );
}

function SsidRows({ ssid: { id, name, bands }, number }: { ssid: Ssid; number: number }) {
  const { run } = useDocument.getState();
  const bandsId = useId();
  return (
    <fieldset className="ssid" aria-label={`Network name ${number}`}>
      <TextField
        label={`name ${number}`}
        value={name}
        maxLength={SSID_OCTETS}
        onCommit={(to) => run(`Rename “${name}”`, (design) => editSsid(design, id, { name: to }))}
      />
      <Field label="announced at" htmlFor={bandsId}>
        <div className="with-button">
          <Choice
            id={bandsId}
            className="entry"
            value={keyOf(bands)}
            options={CHOICES.map((choice) => ({
              value: keyOf(choice),
              label: choice.length === BANDS.length ? 'all bands' : `${keyOf(choice)} GHz`,
            }))}
            onChoose={(key) =>
              run(`Bands of “${name}”`, (design) => editSsid(design, id, { bands: CHOICES.find((choice) => keyOf(choice) === key)! }))
            }
          />
          <IconButton
            size="small"
            aria-label={`Delete “${name}”`}
            title="Delete this name"
            onClick={() => run(`Delete “${name}”`, (design) => removeSsid(design, id))}
          >
            <Close fontSize="small" />
          </IconButton>
        </div>
      </Field>
    </fieldset>
  );
}
