import { cellOf, characters, classify, fieldCharacters, type Network } from '@umbral/core/display';
import { bySegments, drawNumberText, drawScene, filmedImage } from './display/index.ts';
import { seededRandom } from '@umbral/core';

/** Characters of seven segments on filmed displays, and how many of them were told by either way. */
interface ClassifierCount {
  characters: number;
  network: number;
  segments: number;
}

/**
 * Holds the network against lit segments alone, on displays of seven segments, the one kind that both know.
 *
 * @param from first seed
 * @param scenes displays of any kind; those of another kind are passed over
 */
export function compareClassifiers(net: Network, from: number, scenes: number): ClassifierCount {
  const count: ClassifierCount = { characters: 0, network: 0, segments: 0 };
  for (let k = 0; k < scenes; k++) {
    const random = seededRandom(from + k);
    const scene = drawScene('strange', random);
    if (scene.style.kind !== 'segments') continue;
    const texts: [string, string] = [drawNumberText(random), drawNumberText(random)];
    const picture = filmedImage(scene.camera, [scene.draw(...texts)], random, 1, random());
    texts.forEach((text, f) => {
      const row = fieldCharacters(picture, scene.fields[f]);
      const shown = [...text].filter((c) => c !== '.');
      if (typeof row === 'string' || row.boxes.length !== shown.length) return;
      row.boxes.forEach((box, c) => {
        const { p } = classify(net, cellOf(row, box));
        count.characters++;
        if (characters[p.indexOf(Math.max(...p))] === shown[c]) count.network++;
        if (bySegments(row, box) === shown[c]) count.segments++;
      });
    });
  }
  return count;
}
