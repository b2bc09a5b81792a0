import { v7 as uuid } from 'uuid';
import { MAX_EQUIPMENT_BYTES, readAntenna, readEquipment, writeAntenna, writeEquipment } from '@/contract/equipmentFile';
import { editModel, takeIn, type Equipment } from '@/core/design/equipmentCommands';
import { UpperRoomError } from '@/core/errors';
import type { ApModel } from '@/core/radio/catalogue';
import type { Band } from '@/core/radio/band';
import { saveFile } from '../kit/saveFile';
import { useDocument } from '../state/documentStore';

const json = (text: string) => new Blob([text], { type: 'application/json' });

/** Gives the browser a file of models and client types to keep. */
export const saveEquipment = (name: string, equipment: Equipment): void => saveFile(`${name} equipment`, 'json', json(writeEquipment(equipment)));

export const saveAntenna = (model: ApModel, band: Band): void => {
  const name = `${model.name} ${band} GHz`;
  saveFile(`${name} antenna`, 'json', json(writeAntenna(name, model.radios.find((radio) => radio.band === band)!.antenna)));
};

/** Reads a file's text, and says in words what is wrong with it. */
async function reading(file: File, take: (text: string) => void): Promise<void> {
  const { setNotice } = useDocument.getState();
  try {
    if (file.size > MAX_EQUIPMENT_BYTES)
      throw new UpperRoomError('EQUIPMENT_FILE_UNREADABLE', { problem: `it is larger than ${MAX_EQUIPMENT_BYTES / 1024 / 1024} MB` });
    take(await file.text());
  } catch (error) {
    if (error instanceof UpperRoomError) setNotice({ code: error.code, details: error.details });
    else if (error instanceof DOMException)
      setNotice({ code: 'EQUIPMENT_FILE_UNREADABLE', details: { problem: `the browser cannot read it: ${error.message}` } });
    else throw error;
  }
}

/** Takes a file's models and client types into the project, as one step. */
export const bringInEquipment = (file: File): Promise<void> =>
  reading(file, (text) => {
    const equipment = readEquipment(text);
    const { design, run, setNotice } = useDocument.getState();
    const changes = takeIn(design, equipment, uuid);
    if (changes.length === 0) setNotice({ words: 'All that the file holds is here already.' });
    else run(`Bring in equipment from ${file.name}`, (now) => takeIn(now, equipment, uuid));
  });

/** Gives a model's radio the antenna of a file. */
export const bringInAntenna = (file: File, model: ApModel, band: Band): Promise<void> =>
  reading(file, (text) => {
    const { antenna } = readAntenna(text);
    useDocument
      .getState()
      .run(`Antenna of ${model.name}, ${band} GHz`, (design) =>
        editModel(design, model.id, { radios: model.radios.map((radio) => (radio.band === band ? { ...radio, antenna } : radio)) }),
      );
  });
