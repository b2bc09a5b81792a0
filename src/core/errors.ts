/** Every error the product can raise, by permanent code. The text says what is wrong and what to do; retired codes are never reused. */
export const ERROR_MESSAGES = {
  DISTANCE_NOT_POSITIVE: 'A distance must be greater than 0 m.',
  BAND_UNKNOWN: 'The band must be 2.4, 5 or 6 GHz.',
  SSID_REFUSED: 'A network name has 1 to 32 octets (a letter outside English takes two or more), and no two are the same. Choose another.',
  CHANNEL_UNKNOWN: 'This channel does not exist in this band and width. Choose one from the list.',
  EQUIPMENT_FILE_UNREADABLE:
    'This file holds no access points, clients or antenna that Upper Room can read. Nothing was changed. Write it again from Brief, or mend what is named.',
  MODEL_UNKNOWN: 'This access point model is not in the catalogue. Choose another model.',
  MATERIAL_UNKNOWN: 'This material is not in the catalogue. Choose another material.',
  GRID_TOO_LARGE: 'The floor is too large for this cell size. Use larger cells or a smaller floor.',
  FLOOR_EMPTY: 'The floor has no outline yet. Draw one in Building.',
  TOO_FEW_READINGS: 'The access points were heard at too few spots here in this band to learn from. Walk further, or choose another band.',
  RECORD_UNKNOWN: 'This thing is not in the project any more. It may have been deleted in another window.',
  RECORD_INVALID: 'A value is outside its limits. Nothing was changed.',
  NO_WALL_HERE: 'There is no wall here. Click on a wall to put an opening into it.',
  OPENING_NO_ROOM: 'There is no room for this opening here: the wall is too short, or another opening is in the way. Choose another place or width.',
  WALLS_NOT_JOINED: 'Only two walls of one material and height that lie in line and touch can be made one. Choose two such walls.',
  WALLS_PARALLEL: 'The two walls do not cross anywhere: they are parallel. Choose another wall to meet.',
  PICTURE_NOT_DRAWN: 'This browser could not make a picture of the map. Try again, or keep the map as SVG.',
  DRAWING_UNKNOWN: 'This file is not a drawing that can be read. Bring PNG, JPEG, WebP, SVG, PDF or DXF.',
  DRAWING_BROKEN: 'This file cannot be read to its end: it is damaged or cut off. Ask for it again, or save it anew in the program that made it.',
  DRAWING_LOCKED: 'This PDF is locked by a password. Save it without one, then bring it again.',
  DRAWING_NOT_SENT: 'No server answers, so the drawing was not kept. Bring it in again when the top bar says that your work is saved.',
  DRAWING_NOT_SHOWN: 'The picture of this drawing cannot be had just now. Try again; if it stays so, bring the drawing in again.',
  DRAWING_NO_PLAN:
    'This picture is no line drawing: there are too many edges to find walls among them. Cut off what is not the plan, or bring a cleaner copy.',
  DRAWING_EMPTY: 'There is nothing to draw in this file. Choose another page, layer or file.',
  DRAWING_TOO_LARGE:
    'This drawing is too large. Bring one of at most 24 MB, 16 000 pixels a side and 144 megapixels; saved at half its size it will do.',
  FLOOR_FILE_UNREADABLE:
    'This file is not a floor that Upper Room can read. Nothing was changed. Write it again from Building, or mend what is named.',
  PROJECT_FILE_UNREADABLE:
    'This file is not a project that Upper Room can read. Nothing was changed. Keep the project as a file again, or mend what is named.',
  PROJECT_FILE_TOO_LARGE: 'This file is larger than any project of Upper Room: 96 MB at most. Nothing was changed.',
  ASSET_UNKNOWN: 'This picture is not in the project any more. Bring the drawing in again.',
  REFERENCE_TOO_SHORT: 'The two ends of the reference lie on one spot. Draw it over something long, from end to end.',
  AREA_CROSSED: 'The outline of an area may not cross itself or its holes. Put its corners in order, one after the other.',
  NO_AREA_HERE: 'There is no area here that holds the whole hole. Draw the area first, and the hole within it.',
  NO_OUTER_WALLS:
    'The walls of this floor close nothing in: there is a gap between their ends, or none is drawn. Close it, or draw the outline by its corners.',
  NO_ROOM_HERE:
    'There is no room round this spot: it lies on a wall, or outside of the outline. Click inside a room, or draw the area by its corners.',
  PAIRS_TOO_FEW: 'At least two pairs of points that lie apart are needed. Add another pair, far from the first.',
  NOT_LAWFUL: 'Model or law do not allow this setting of a radio. Nothing was changed.',
  LAST_OF_KIND: 'The last one cannot be deleted. Add another first.',
  REFERENCE_BROKEN: 'The change points at something that is not in the project. Nothing was changed.',
  RECORD_UNREADABLE: 'A stored value is not what this version can read. It was set aside; everything else is there.',
  PROJECT_NEWER: 'This was saved by a newer version of Upper Room. Reload the page; if that does not help, update Upper Room.',
  STEP_CONFLICT: 'Somebody else changed the same values. Both values are listed under “Refused edits”.',
  PROJECT_UNKNOWN: 'There is no project with this id. Open one from the home page.',
  PROJECT_DELETED: 'This project was deleted in another window. Restore it from the home page within 10 seconds, or open another.',
  WALK_UNKNOWN: 'There is no walk with this id in this project.',
  ORIGIN_FOREIGN: 'The request came from a page of another site. Use Upper Room at its own address.',
  BODY_TOO_LARGE: 'The request is larger than the server takes. Send it in smaller parts.',
  BODY_NOT_JSON: 'The request is not valid JSON.',
  BODY_INVALID: 'The request does not have the right shape. The list says which values are wrong.',
  BODY_TOO_DEEP: 'The request is nested deeper than anything Upper Room sends.',
  HOST_UNKNOWN: 'The server does not answer under this name. Use the address it printed at its start, or allow the name with UPPER_ROOM_HOSTS.',
  METHOD_UNKNOWN: 'The server does not know this method.',
  SIGN_IN_NEEDED: 'Sign in with the pass phrase first.',
  TOO_MANY_TRIES: 'Too many wrong pass phrases. Wait a minute and try again.',
  TOO_MANY_STREAMS: 'Too many windows listen to the server. Close some; this one asks again by itself.',
  REVISION_AHEAD:
    'The server stands at an older state than this edit was made on; a backup may have been restored. The edit is kept under “Refused edits”.',
  DATA_FOLDER_IN_USE: 'The data folder is in use by another running Upper Room. Stop that one, or choose another folder with UPPER_ROOM_DATA.',
  DISK_FULL: 'The disk with the data folder is full. Nothing was changed. Make room; what was not saved is sent again by itself.',
  DISK_READ_ONLY: 'The data folder cannot be written. Give this user the right to write there, or choose another folder with UPPER_ROOM_DATA.',
  DATABASE_LOST: 'The connection to the database is lost. Check that it runs; what was not saved is sent again by itself.',
  BACKUP_UNREADABLE: 'The backup cannot be opened. Choose another: npm run restore lists them.',
  SCHEMA_NEWER: 'The data was written by a newer version of Upper Room. Update this one, or restore a backup of its own time with npm run restore.',
  SWEEP_REFUSED: 'The receiver cannot sweep so. Change what is named.',
  SITE_UNREACHABLE: 'The receiver hears nothing: the simulated site does not answer. It goes on by itself when the server is back.',
  CAPTURE_UNREADABLE: 'The capture cannot be read. Nothing was changed; bring a pcapng with beacon frames and radiotap headers.',
  CSV_UNREADABLE: 'The table cannot be read. Nothing was changed; mend the line that is told, or take a survey out as CSV to see the columns.',
  CAPTURE_APART: 'Nothing of the capture lies in the time of the walk. Choose the walk whose clicks belong to it.',
  OUTBOX_UNREADABLE: 'Some unsent changes were kept by another version of Upper Room and cannot be read by this one. They stay in this browser.',
  CANCELLED: 'The calculation was stopped.',
  WORKER_FAILED: 'The calculation stopped unexpectedly. Change something or reload the page to run it again.',
  WORKER_UNLOADABLE:
    'The calculation cannot be started in this browser. Reload the page; if that does not help, the server may have been updated or stopped.',
  NOTHING_TO_PLAN: 'No radio is on in the chosen bands on this floor. Switch a radio on, or choose another band.',
  NETWORK_FAILED: 'The server cannot be reached. Your work is kept here and sent when it answers again.',
  SERVER_FAULT: 'The server met a fault of its own. Nothing was changed; the log has the details.',
} as const;

export type ErrorCode = keyof typeof ERROR_MESSAGES;
export const ERROR_CODES = Object.keys(ERROR_MESSAGES) as [ErrorCode, ...ErrorCode[]];

/** The one error class. Branch on `code`, never on the text; `details` holds the bad value and the limit. */
export class UpperRoomError extends Error {
  constructor(
    readonly code: ErrorCode,
    readonly details: Readonly<Record<string, unknown>> = {},
  ) {
    super(Object.keys(details).length === 0 ? ERROR_MESSAGES[code] : `${ERROR_MESSAGES[code]} ${JSON.stringify(details)}`);
    this.name = 'UpperRoomError';
  }
}
