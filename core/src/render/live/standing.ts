import { laneValue } from '../../automation/lane-value';
import { effectCatalogue } from '../../catalogue';
import { findProperty } from '../../project/address';
import { axisOf } from '../../project/axis';
import type { Sound } from '../../project/schema';
import type { Seconds } from '../../units';

/**
 * A sound as it stands at a moment of its time axis, without its clips: what is played by hand while the sound itself does not play goes through
 * this. Lanes stay where they are at that moment, for who plays on for minutes is not to fall into the fade at the sound's end; movers go on.
 */
export function standing(sound: Sound, time: Seconds): Sound {
  const automation = sound.automation.map((lane) => {
    const property = findProperty(sound, lane.address, effectCatalogue);
    const axis = property && axisOf(property.parameter);
    return axis ? { ...lane, points: [{ time: 0, value: laneValue({ ...lane, trim: 0 }, axis, time), bend: 0 }] } : lane;
  });
  return { ...sound, automation, layers: sound.layers.map((layer) => ({ ...layer, clips: [] })) };
}
