import {
  drawDisplay,
  findInPictures,
  shippedNetwork,
  type DisplayStyle,
  type Point,
  type Quad,
} from '@umbral/core/display';
import { seededRandom } from '@umbral/core';
import { filmedImage, type Camera } from '@umbral/tools';
import settings from './display-faces.json';

const net = shippedNetwork();
const size = { width: 640, height: 480 };

/** The display of the simulated bench on another screen, before a camera that stands a little askew. */
function cameraTurned(degrees: number): Camera {
  const turn = (degrees * Math.PI) / 180;
  const [w, h] = [settings.width * 0.72, settings.height * 0.72];
  const corners: Point[] = [
    [-w / 2, -h / 2],
    [w / 2, -h / 2],
    [w / 2, h / 2],
    [-w / 2, h / 2],
  ];
  const quad = corners.map(([x, y]): Point => [
    size.width / 2 + x * Math.cos(turn) - y * Math.sin(turn),
    size.height / 2 + x * Math.sin(turn) + y * Math.cos(turn),
  ]) as unknown as Quad;
  return {
    ...size,
    quad,
    background: 0.3,
    gradient: [0.1, 0],
    glare: null,
    blur: 1,
    noise: 0.02,
    band: null,
    exposure: 1,
  };
}

test.each(Object.entries(settings.faces))(
  'both numbers of the product’s own display are found, turned either way: %s',
  (_, face) => {
    for (const degrees of [-3, 0, 3]) {
      const random = seededRandom(40 + degrees);
      const camera = cameraTurned(degrees);
      const [volts, amps] = ['3.85', '0.127'];
      const shown = [volts, amps].map((text, k) => ({ ...settings.places[k], text }));
      const display = drawDisplay(face as unknown as DisplayStyle, shown, {
        width: settings.width,
        height: settings.height,
      });
      const found = findInPictures(net, [filmedImage(camera, [display], random)]);
      expect(found.map((n) => n.reads.text).sort()).toEqual([amps, volts]);
    }
  },
);
