import * as THREE from 'three';
import type { Look } from './preview';

const SIZE = 160;
const GRAIN = 256;

const toRgb = (hex: string): [number, number, number] =>
  [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16) / 255) as [number, number, number];
const mix = (a: number, b: number, t: number): number => a + (b - a) * t;
const smooth = (a: number, b: number, t: number): number => {
  const x = Math.min(1, Math.max(0, (t - a) / (b - a)));
  return x * x * (3 - 2 * x);
};

/**
 * A ball of the material under the workshop's lamps, as a picture: a window high on the left, a bench lamp on the right, a pale
 * ceiling and a dark floor that metals mirror. Faces look up their light by their direction, which costs next to nothing.
 */
export function createMatcap(look: Look): THREE.CanvasTexture {
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = SIZE;
  const context = canvas.getContext('2d')!;
  const image = context.createImageData(SIZE, SIZE);
  const [dark, body, light] = [toRgb(look.dark), toRgb(look.body), toRgb(look.light)];
  const lamps: [number, number, number, number][] = [
    [-0.45, 0.62, 0.64, 1],
    [0.72, 0.1, 0.68, 0.45],
  ];
  for (let j = 0; j < SIZE; j++) {
    for (let i = 0; i < SIZE; i++) {
      let x = (2 * (i + 0.5)) / SIZE - 1,
        y = 1 - (2 * (j + 0.5)) / SIZE;
      const r = Math.hypot(x, y);
      if (r > 1) {
        x /= r;
        y /= r;
      }
      const z = Math.sqrt(Math.max(0, 1 - x * x - y * y));
      // What a mirror would show: straight back along the sight, turned about the normal.
      const my = 2 * z * y,
        mz = 2 * z * z - 1;
      const room = smooth(-0.5, 0.75, my) * 0.75 + 0.25 * smooth(-0.2, 1, mz);
      let lit = 0,
        glint = 0;
      for (const [lx, ly, lz, power] of lamps) {
        const d = x * lx + y * ly + z * lz;
        lit += power * Math.max(0, 0.35 + 0.65 * d);
        const h = Math.hypot(lx, ly, lz + 1);
        const spec = Math.max(0, (x * lx + y * ly + z * (lz + 1)) / h);
        glint += power * spec ** mix(6, 90, look.gloss);
      }
      const level = mix(lit / 1.25, room, look.shine * 0.6);
      const edge = (1 - z) ** 3;
      for (let c = 0; c < 3; c++) {
        const tone = level < 0.5 ? mix(dark[c]!, body[c]!, level * 2) : mix(body[c]!, light[c]!, Math.min(1, (level - 0.5) * 2));
        image.data[4 * (j * SIZE + i) + c] = 255 * Math.min(1, tone + look.shine * (0.55 * glint + 0.12 * edge));
      }
      image.data[4 * (j * SIZE + i) + 3] = 255;
    }
  }
  context.putImageData(image, 0, 0);
  const texture = new THREE.CanvasTexture(canvas);
  texture.colorSpace = THREE.SRGBColorSpace;
  return texture;
}

/** Repeatable noise, so that a piece looks the same at every visit. */
function createNoise(seed: number): () => number {
  let a = seed;
  return () => {
    a = (Math.imul(a, 1664525) + 1013904223) >>> 0;
    return a / 4294967296;
  };
}

/** What is drawn into the surface, multiplied on its colour; null for none. It repeats every 20 mm along x. */
export function createGrain(kind: Look['grain']): THREE.CanvasTexture | null {
  if (kind === 'none') return null;
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = GRAIN;
  const context = canvas.getContext('2d')!;
  context.fillStyle = '#fff';
  context.fillRect(0, 0, GRAIN, GRAIN);
  const random = createNoise(7);
  if (kind === 'brushed') {
    for (let x = 0; x < GRAIN; x++) {
      const v = 255 - Math.floor(14 * random());
      context.fillStyle = `rgb(${v},${v},${v})`;
      context.fillRect(x, 0, 1, GRAIN);
    }
  } else if (kind === 'wood') {
    for (let k = 0; k < 26; k++) {
      const y0 = random() * GRAIN,
        sway = 3 + 6 * random(),
        phase = 6.28 * random();
      context.strokeStyle = `rgba(120,74,24,${0.06 + 0.14 * random()})`;
      context.lineWidth = 1 + 2.5 * random();
      for (const shift of [-GRAIN, 0, GRAIN]) {
        context.beginPath();
        for (let x = 0; x <= GRAIN; x += 8) context.lineTo(x, y0 + shift + sway * Math.sin((2 * Math.PI * x) / GRAIN + phase));
        context.stroke();
      }
    }
  } else {
    for (let k = 0; k < 2600; k++) {
      const v = 190 + Math.floor(65 * random());
      context.fillStyle = `rgba(${v},${v},${Math.min(255, v + 4)},0.5)`;
      context.fillRect(random() * GRAIN, random() * GRAIN, 1 + 5 * random(), 1);
    }
  }
  const texture = new THREE.CanvasTexture(canvas);
  texture.wrapS = texture.wrapT = THREE.RepeatWrapping;
  texture.colorSpace = THREE.SRGBColorSpace;
  return texture;
}
