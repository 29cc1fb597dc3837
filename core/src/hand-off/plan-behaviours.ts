import { safeFileName } from '../formats/file-name';
import { drawSibling } from '../kin/draw';
import { recipeId } from '../kin/recipe';
import type { EffectCatalogue } from '../project/parameters';
import { deliveryKinds } from '../project/deliveries/create-delivery';
import type { Delivery, Project } from '../project/schema';
import type { WantedTake } from './conduct-takes';
import { wantedTakes } from './conduct-takes';
import { endings, formId, formOf } from './form';
import type { DeliveryItem } from './plan';

/** What a game is given where a project has no delivery of behaviours yet. */
const plainGame: Delivery = { id: 'game', name: 'Game', on: true, ...deliveryKinds['Behaviours for a game']! };

/** The delivery that says how recordings for a game are coded: the first of behaviours, or a plain one. */
export function gameDelivery({ deliveries }: Pick<Project, 'deliveries'>): Delivery {
  return deliveries.find(({ content }) => content === 'behaviours') ?? plainGame;
}

/**
 * A delivery as it counts. Recordings that behaviours play are coded as it asks, but neither levelled, cut nor faded, because behaviours place and weigh them
 * as they were heard in the simulator.
 */
export function asItCounts(delivery: Delivery): Delivery {
  if (delivery.content === 'sounds') return delivery;
  const { channels, format, encoding, bitrate, sampleRate, id, name, on } = delivery;
  return { ...plainGame, id, name, on, channels, format, encoding, bitrate, sampleRate };
}

/** The recordings that a game plays, each once; their keys are the assets of `conduct.json`. */
export function planBehaviours(project: Project, delivery: Delivery, catalogue: EffectCatalogue): DeliveryItem[] {
  const settings = asItCounts(delivery);
  const wanted = wantedTakes(project, catalogue);
  const names = fileNames(wanted);
  return wanted.map(({ asset, of, sibling, sound, realised, loops }) => ({
    key: asset,
    of: { id: of.id, name: of.name },
    ...(sibling !== undefined && { sibling }),
    file: `${names.get(asset)!}.${endings[formOf(settings).format]}`,
    recipe: recipeId(realised, project),
    form: formId(settings, of, [project.name, of.name]),
    seed: of.family.seed,
    draws: sibling === undefined ? {} : drawSibling(of, sibling),
    sound,
    loops: loops ? ('as it stands' as const) : undefined,
  }));
}

/** Letters, digits and dashes: what every server and every engine reads as it stands. */
const plainName = (name: string): string =>
  safeFileName(name)
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-|-$/g, '') || 'sound';

/** `Snow-step_03`; two sounds of one name are told apart by their ids. Letters of both cases count as the same, as they do on many discs. */
function fileNames(wanted: readonly WantedTake[]): ReadonlyMap<string, string> {
  const ids = new Map<string, Set<string>>();
  for (const { of } of wanted) {
    const key = plainName(of.name).toLowerCase();
    ids.set(key, (ids.get(key) ?? new Set()).add(of.id));
  }
  return new Map(
    wanted.map(({ asset, of, sibling }) => {
      const name = plainName(of.name);
      const own = ids.get(name.toLowerCase())!.size > 1 ? `${name}_${of.id}` : name;
      return [asset, `${own}${sibling === undefined ? '' : `_${String(sibling + 1).padStart(2, '0')}`}`];
    }),
  );
}
