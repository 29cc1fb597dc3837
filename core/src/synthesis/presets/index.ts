import { brightPresets } from './bright';
import { lowPresets } from './low';
import { machinePresets } from './machines';
import { matterPresets } from './matter';
import { motionPresets } from './motion';
import type { PatchPreset } from './preset';
import { makings } from './preset';

const all = [...lowPresets, ...brightPresets, ...machinePresets, ...matterPresets, ...motionPresets];

/** All patches of our own, by the kind of sound that they make. */
export const patchPresets: readonly PatchPreset[] = makings.flatMap((making) => all.filter((preset) => preset.making === making));
