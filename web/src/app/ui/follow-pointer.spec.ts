import { followPointer, watchDrags } from './follow-pointer';

/** jsdom knows no pointer events; as far as this is concerned, those of the mouse are the same. */
const pointer = (type: string): PointerEvent => new MouseEvent(type, { cancelable: true }) as PointerEvent;
const press = (key: string): KeyboardEvent => new KeyboardEvent('keydown', { key, cancelable: true });

describe('following a pressed pointer', () => {
  const move = jest.fn();
  const end = jest.fn();
  const watcher = { begins: jest.fn(), givenUp: jest.fn() };
  const keys = jest.fn();
  let unwatch: () => void;

  beforeEach(() => {
    jest.resetAllMocks();
    unwatch = watchDrags(watcher);
    addEventListener('keydown', keys);
    followPointer(pointer('pointerdown'), move, end);
  });
  afterEach(() => {
    unwatch();
    removeEventListener('keydown', keys);
  });

  it('moves until it is let go', () => {
    dispatchEvent(pointer('pointermove'));
    dispatchEvent(pointer('pointerup'));
    dispatchEvent(pointer('pointermove'));
    dispatchEvent(press('Escape'));
    expect(move).toHaveBeenCalledTimes(1);
    expect(end.mock.calls).toEqual([[false]]);
    expect([watcher.begins.mock.calls.length, watcher.givenUp.mock.calls.length]).toEqual([1, 0]);
  });

  it('is given up by Escape, which then does nothing else', () => {
    dispatchEvent(press('a'));
    dispatchEvent(press('Escape'));
    dispatchEvent(pointer('pointermove'));
    dispatchEvent(pointer('pointerup'));
    expect(move).not.toHaveBeenCalled();
    expect(end.mock.calls).toEqual([[true]]);
    expect(watcher.givenUp).toHaveBeenCalledTimes(1);
    expect(keys.mock.calls.map(([event]) => event.key)).toEqual(['a']);
  });
});
