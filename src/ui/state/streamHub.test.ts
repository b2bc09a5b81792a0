import { describe, expect, test } from '@jest/globals';
import type { StreamEvent } from '@/contract/http';
import { StreamHub, type StreamLike } from './streamHub';

/** An event stream that the test feeds. */
class Stream implements StreamLike {
  onmessage: StreamLike['onmessage'] = null;
  onerror: StreamLike['onerror'] = null;
  readyState = 1;
  constructor(readonly url: string) {}
  close(): void {
    this.readyState = 2;
  }
}

function setUp() {
  const streams: Stream[] = [];
  let nowMs = 0;
  const hub = new StreamHub(
    (url) => {
      streams.push(new Stream(url));
      return streams.at(-1)!;
    },
    () => nowMs,
  );
  const tab = (projectId: string) => {
    const port = {};
    const heard: StreamEvent[] = [];
    const tell = (type: 'follow' | 'alive' | 'leave', of = projectId) => hub.receive(port, { type, projectId: of }, (event) => heard.push(event));
    return { heard, tell };
  };
  return {
    streams,
    tab,
    wait: (ms: number) => (nowMs += ms),
    say: (event: StreamEvent) => streams.at(-1)!.onmessage?.({ data: JSON.stringify(event) }),
  };
}
const hello = (projectId: string, revision = 1): StreamEvent => ({ projectId, event: { type: 'hello', revision } });
const open = (streams: readonly Stream[]) => streams.filter(({ readyState }) => readyState === 1).map(({ url }) => url);

describe('one event stream for all tabs', () => {
  test('twelve tabs of two projects hold one stream; each hears its own project', () => {
    const { streams, tab, say } = setUp();
    const tabs = Array.from({ length: 12 }, (_, i) => tab(i % 2 === 0 ? 'a' : 'b'));
    for (const one of tabs) one.tell('follow');
    expect(open(streams)).toEqual(['/api/events?project=a&project=b']);
    say(hello('b', 7));
    expect(tabs.map(({ heard }) => heard.length)).toEqual([0, 1, 0, 1, 0, 1, 0, 1, 0, 1, 0, 1]);
    expect(tabs[1]!.heard).toEqual([hello('b', 7)]);
  });
  test('a new tab makes the stream begin again, so that it gets its hello; a sign of life does not', () => {
    const { streams, tab } = setUp();
    const [one, two] = [tab('a'), tab('a')];
    one.tell('follow');
    one.tell('alive');
    expect(streams).toHaveLength(1);
    two.tell('follow');
    expect(streams).toHaveLength(2);
    expect(open(streams)).toEqual(['/api/events?project=a']);
  });
  test('a tab that leaves takes its project along, the last one the stream', () => {
    const { streams, tab } = setUp();
    const [one, two] = [tab('a'), tab('b')];
    one.tell('follow');
    two.tell('follow');
    one.tell('leave');
    expect(open(streams)).toEqual(['/api/events?project=b']);
    two.tell('leave');
    expect(open(streams)).toEqual([]);
  });
  test('a tab that fell silent is forgotten', () => {
    const { streams, tab, wait } = setUp();
    const [crashed, alive] = [tab('a'), tab('b')];
    crashed.tell('follow');
    alive.tell('follow');
    wait(60_000);
    alive.tell('alive');
    expect(open(streams)).toEqual(['/api/events?project=a&project=b']);
    wait(60_000);
    alive.tell('alive');
    expect(open(streams)).toEqual(['/api/events?project=b']);
  });
  test('what cannot be read is passed over, and the next event comes', () => {
    const { streams, tab, say } = setUp();
    const one = tab('a');
    one.tell('follow');
    for (const data of ['{"projectId":', '[]', '{"projectId":"a","event":{"type":"tomorrow"}}']) streams[0]!.onmessage?.({ data });
    const newer = {
      id: 's',
      title: 't',
      kind: 'do',
      ofStepId: null,
      author: null,
      versions: { walls: 99 },
      changes: [{ table: 'walls', id: 'w', before: null, after: {} }],
    };
    streams[0]!.onmessage?.({ data: JSON.stringify({ projectId: 'a', event: { type: 'step', revision: 2, step: newer } }) });
    expect(one.heard).toEqual([]);
    say(hello('a'));
    expect(one.heard).toEqual([hello('a')]);
  });
});
