import { branchesOf } from './chain/chain-tree';
import type { Branch, EffectStep } from './chain/chain-schema';
import type { Sound } from './schema';

/** Something that is heard alone: a layer, a group, or a branch of a host. */
export interface Soloed {
  readonly kind: 'layer' | 'group' | 'branch';
  readonly name: string;
}

/** What is soloed in a sound, and heard alone; nothing while solos are set aside. */
export function soloed(sound: Sound): Soloed[] {
  return sound.soloing ? rememberedSolos(sound) : [];
}

/** What is soloed in a sound, also while solos are set aside. */
export function rememberedSolos(sound: Sound): Soloed[] {
  return [
    ...sound.layers.filter((layer) => layer.soloed).map(({ name }) => ({ kind: 'layer' as const, name })),
    ...sound.buses.filter((bus) => bus.soloed).map(({ name }) => ({ kind: 'group' as const, name })),
    ...chainsOf(sound).flatMap(({ chain, owner }) =>
      branchesOf(chain)
        .filter((branch) => branch.soloed)
        .map((branch) => ({ kind: 'branch' as const, name: branch.name || `a branch in ${owner}` })),
    ),
  ];
}

/**
 * The sound as its document decides it: only what is muted is missing. Solos are for listening; no render knows them. The same object when
 * nothing is soloed.
 */
export function withoutSolos(sound: Sound): Sound {
  if (sound.soloing && rememberedSolos(sound).length === 0) return sound;
  return {
    ...sound,
    soloing: true,
    chain: heardWhole(sound.chain),
    layers: sound.layers.map((layer) => ({ ...layer, soloed: false, chain: heardWhole(layer.chain) })),
    buses: sound.buses.map((bus) => ({ ...bus, soloed: false, chain: heardWhole(bus.chain) })),
  };
}

function chainsOf(sound: Sound): { readonly chain: readonly EffectStep[]; readonly owner: string }[] {
  const owned = [...sound.layers, ...sound.buses].map(({ chain, name }) => ({ chain, owner: `“${name}”` }));
  return [...owned, { chain: sound.chain, owner: 'the sound’s chain' }];
}

/** A chain none of whose branches is soloed; the same object when none was. */
function heardWhole(chain: EffectStep[]): EffectStep[] {
  if (!branchesOf(chain).some((branch) => branch.soloed)) return chain;
  const whole = (branch: Branch): Branch => ({ ...branch, soloed: false, chain: heardWhole(branch.chain) });
  return chain.map((step) => (step.branches ? { ...step, branches: step.branches.map(whole) } : step));
}
