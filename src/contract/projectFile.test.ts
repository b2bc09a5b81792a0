import { describe, expect, test } from '@jest/globals';
import { cottage } from '@demo/cottage';
import { museum } from '@demo/museum';
import { readProjectFile, writeProjectFile } from './projectFile';

const file = { design: museum(), assets: [Uint8Array.from([0, 255, 128, 7])], walks: [] };
const broken = (edit: (json: ReturnType<typeof parsed>) => void): string => {
  const json = parsed(writeProjectFile({ ...file, design: cottage() }));
  edit(json);
  return JSON.stringify(json);
};
type Json = {
  format: string;
  version: number;
  versions: Record<string, number>;
  records: Record<string, Array<Record<string, unknown>>>;
  assets: string[];
  walks: Array<{ walkId: string; samples: unknown[] }>;
};
const parsed = (text: string) => JSON.parse(text) as Json;

test('what was written is read again, record by record and byte by byte', () => {
  expect(readProjectFile(writeProjectFile(file))).toEqual(file);
  const large = { ...file, assets: [Uint8Array.from({ length: 100_003 }, (_, i) => (i * 31) & 255)] };
  expect(readProjectFile(writeProjectFile(large)).assets).toEqual(large.assets);
});

test('records of older versions are brought to today', () => {
  const text = broken((json) => {
    json.versions.project = 2;
    delete json.records.project![0]!.network;
  });
  expect(Object.values(readProjectFile(text).design.project)[0]!.network.ssids).toBeNull();
});

describe('refused with what is wrong', () => {
  test.each([
    ['no JSON', '{"format":', 'PROJECT_FILE_UNREADABLE', 'no JSON'],
    ['something else', '{"format":"a floor"}', 'PROJECT_FILE_UNREADABLE', 'format'],
    ['a newer file', broken((json) => (json.version = 2)), 'PROJECT_NEWER', '2'],
    ['a newer kind of record', broken((json) => (json.versions.walls = 99)), 'PROJECT_NEWER', 'walls'],
    ['an unknown table', broken((json) => Object.assign(json.records, { constructor: [] })), 'PROJECT_FILE_UNREADABLE', 'constructor'],
    ['a value out of its limits', broken((json) => (json.records.walls![0]!.topM = 1e9)), 'PROJECT_FILE_UNREADABLE', 'topM'],
    ['what points at nothing', broken((json) => (json.records.walls![0]!.floorId = 'gone')), 'PROJECT_FILE_UNREADABLE', 'floorId'],
    ['no floor', broken((json) => (json.records = { project: json.records.project! })), 'PROJECT_FILE_UNREADABLE', 'floors'],
    ['a drawing that is none', broken((json) => (json.assets = ['%%%'])), 'PROJECT_FILE_UNREADABLE', 'base64'],
    ['samples of nowhere', broken((json) => (json.walks = [{ walkId: 'gone', samples: [] }])), 'PROJECT_FILE_UNREADABLE', 'gone'],
  ])('%s', (_what, text, code, said) => {
    let error: unknown;
    try {
      readProjectFile(text);
    } catch (caught) {
      error = caught;
    }
    expect(error).toMatchObject({ code });
    expect((error as Error).message).toContain(said);
  });
});
