import { XMLParser } from 'fast-xml-parser';
import svgpath from 'svgpath';
import { err, ok, type Result } from '../base/result';
import { flattenCubic, flattenQuadratic } from '../lettering/flatten';
import {
  ImportStop,
  MAX_DEPTH,
  MAX_ELEMENTS,
  MAX_IMPORT_BYTES,
  type ImportedDrawing,
  type ImportedLine,
  type ImportError,
  type OnImportProgress,
} from './drawing';
import { flattenEllipse } from './flattenCurves';
import { StyleSheet } from './svgCss';
import { multiply, parseTransform, type Matrix } from './svgTransform';
import { fitViewBox, parseLength, parseViewBox, UNIT_MM, type Axis, type View } from './svgView';

type XmlNode = Record<string, unknown> & { ':@'?: Record<string, string> };
interface Style {
  fill: string;
  stroke: string;
  rule: 'nonzero' | 'evenodd';
  /** Not drawn, with all that is in it. */
  gone: boolean;
  /** Not drawn itself; a child may be. */
  hidden: boolean;
}

const tagOf = (node: XmlNode): string => Object.keys(node).find((k) => k !== ':@') ?? '';
const childrenOf = (node: XmlNode): XmlNode[] => {
  const children = node[tagOf(node)];
  return Array.isArray(children) ? (children as XmlNode[]) : [];
};
const localName = (tag: string): string => tag.slice(tag.indexOf(':') + 1);

/**
 * Reads an SVG: paths, basic shapes, transforms, `use`, nested views with viewBox, units and percentages, fill rules, presentation
 * attributes and style rules by name, id and class. Text, clip paths and other rules are reported; scripts, images and links outside
 * the file are ignored; entities are not expanded.
 * @param toleranceMm Largest chord error, mm.
 * O(size). Source: SVG 1.1 (Second Edition), chapters 7 to 9 and 11 (from memory).
 */
export function readSvg(
  text: string,
  toleranceMm: number,
  onProgress: OnImportProgress = () => undefined,
): Result<ImportedDrawing, ImportError> {
  if (text.length > MAX_IMPORT_BYTES) return err({ kind: 'tooLarge', bytes: text.length, limitBytes: MAX_IMPORT_BYTES });
  let document: XmlNode[];
  try {
    document = new XMLParser({
      preserveOrder: true,
      ignoreAttributes: false,
      attributeNamePrefix: '',
      parseTagValue: false,
      parseAttributeValue: false,
      processEntities: false,
    }).parse(text) as XmlNode[];
  } catch (error) {
    return err({ kind: 'notReadable', what: `it is no well-formed XML (${(error as Error).message})` });
  }
  const root = document.find((n) => localName(tagOf(n)) === 'svg');
  if (!root) return err({ kind: 'notReadable', what: 'it has no <svg> element' });
  onProgress(0.3);
  try {
    return ok(new SvgReader(root, toleranceMm, onProgress).read());
  } catch (error) {
    if (error instanceof ImportStop) return err(error.error);
    throw error;
  }
}

class SvgReader {
  private readonly lines: ImportedLine[] = [];
  private readonly byId = new Map<string, XmlNode>();
  private readonly sheet = new StyleSheet();
  private readonly ignored = new Map<string, number>();
  private readonly notes: string[] = [];
  private readonly layers: string[] = [];
  private elements = 0;
  private total = 1;
  private shape = 0;

  constructor(
    private readonly root: XmlNode,
    private readonly toleranceMm: number,
    private readonly onProgress: OnImportProgress,
  ) {}

  read(): ImportedDrawing {
    this.index(this.root, 0);
    this.total = Math.max(1, this.elements);
    this.elements = 0;
    const style: Style = { fill: 'black', stroke: 'none', rule: 'nonzero', gone: false, hidden: false };
    const { m, view } = this.placeRoot();
    this.walk(this.root, m, style, 'Drawing', 0, [], view);
    if (this.sheet.ignored > 0)
      this.ignored.set('style rules that go by more than a name, an id or a class were ignored', this.sheet.ignored);
    for (const [what, n] of this.ignored) this.notes.push(`${n} ${what}`);
    return { lines: this.lines, layers: this.layers, notes: this.notes };
  }

  private index(node: XmlNode, depth: number): void {
    if (depth > 4000) throw new ImportStop({ kind: 'tooMany', what: 'levels of nesting', limit: 4000 });
    this.elements++;
    const id = node[':@']?.id;
    if (id) this.byId.set(id, node);
    if (localName(tagOf(node)) === 'style') {
      const css = childrenOf(node)
        .map((c) => String(c['#text'] ?? ''))
        .join('');
      this.sheet.add(css);
    }
    for (const child of childrenOf(node)) if (!('#text' in child)) this.index(child, depth + 1);
  }

  /** From user units of the root, y down, to mm, y up, and the size of its view. */
  private placeRoot(): { m: Matrix; view: View } {
    const a = this.root[':@'] ?? {};
    const box = parseViewBox(a.viewBox);
    const px = UNIT_MM.px!;
    const whole: View = box ? { width: box[2], height: box[3] } : { width: 100, height: 100 };
    const size = (value: string | undefined, axis: Axis): number | null => {
      const length = /%/.test(value ?? '') ? null : parseLength(value, axis, whole);
      return length !== null && length > 0 ? length * px : null;
    };
    const w = size(a.width, 'x'),
      h = size(a.height, 'y');
    let kx = px,
      ky = px;
    if (box && (w !== null || h !== null)) {
      kx = w !== null ? w / box[2] : h! / box[3];
      ky = h !== null ? h / box[3] : kx;
      if ((a.preserveAspectRatio ?? '').trim() !== 'none') kx = ky = Math.min(kx, ky);
    } else this.notes.push('no size with a unit: one user unit was taken as a CSS pixel, 1/96 in');
    const view = box ? whole : { width: w !== null ? w / px : 100, height: h !== null ? h / px : 100 };
    return { m: [kx, 0, 0, -ky, box ? -box[0] * kx : 0, box ? (box[1] + box[3]) * ky : 0], view };
  }

  private count(): void {
    this.elements++;
    if (this.elements > MAX_ELEMENTS)
      throw new ImportStop({ kind: 'tooMany', what: 'elements, counting each use of a shared one', limit: MAX_ELEMENTS });
    if (this.elements % 500 === 0) this.onProgress(0.3 + 0.7 * Math.min(1, this.elements / this.total));
  }

  private ignore(what: string): void {
    this.ignored.set(what, (this.ignored.get(what) ?? 0) + 1);
  }

  private walk(node: XmlNode, parent: Matrix, inherited: Style, layer: string, depth: number, used: readonly XmlNode[], view: View): void {
    this.count();
    if (depth > MAX_DEPTH * 10) throw new ImportStop({ kind: 'tooMany', what: 'levels of nesting', limit: MAX_DEPTH * 10 });
    const tag = localName(tagOf(node));
    const a = node[':@'] ?? {};
    const style = this.styleOf(tag, a, inherited);
    if (style.gone) return;
    const m = a.transform ? multiply(parent, parseTransform(a.transform)) : parent;
    switch (tag) {
      case 'svg': {
        const inner = depth === 0 ? { m, view } : this.placeView(a, m, view, {});
        for (const child of childrenOf(node)) if (!('#text' in child)) this.walk(child, inner.m, style, layer, depth + 1, used, inner.view);
        return;
      }
      case 'g':
      case 'a':
      case 'switch': {
        const name = tag === 'g' && depth === 1 ? a['inkscape:label'] || a.id || layer : layer;
        for (const child of childrenOf(node)) if (!('#text' in child)) this.walk(child, m, style, name, depth + 1, used, view);
        return;
      }
      case 'use': {
        const href = a.href ?? a['xlink:href'] ?? '';
        const target = href.startsWith('#') ? this.byId.get(href.slice(1)) : undefined;
        if (!target)
          return this.ignore(href.startsWith('#') ? 'uses of something that is not there' : 'links outside the file were not followed');
        if (used.includes(target) || used.length >= MAX_DEPTH) return this.ignore('uses that lead back to themselves were left out');
        const moved = multiply(m, [1, 0, 0, 1, parseLength(a.x, 'x', view) ?? 0, parseLength(a.y, 'y', view) ?? 0]);
        const kind = localName(tagOf(target));
        const path = [...used, target];
        if (kind === 'symbol' || kind === 'svg') {
          // The size is that of the use, or else the target's own; the place was the use's.
          const found = target[':@'] ?? {};
          const own: Record<string, string> = kind === 'symbol' ? { ...found, x: '0', y: '0' } : found;
          const inner = this.placeView(own, moved, view, a);
          const inside = this.styleOf(kind, own, style);
          for (const child of childrenOf(target))
            if (!('#text' in child)) this.walk(child, inner.m, inside, layer, depth + 1, path, inner.view);
        } else this.walk(target, moved, style, layer, depth + 1, path, view);
        return;
      }
      case 'text':
      case 'tspan':
        return this.ignore('pieces of text were left out: turn them into paths, or set them here');
      case 'script':
      case 'foreignObject':
        return this.ignore(`${tag} elements were ignored`);
      case 'image':
        return this.ignore('images were ignored');
      case 'path':
      case 'rect':
      case 'circle':
      case 'ellipse':
      case 'line':
      case 'polyline':
      case 'polygon':
        if (style.hidden) return;
        return this.draw(toPath(tag, a, view), m, style, layer);
      default:
        return;
    }
  }

  /** A view inside another: an `svg` in the drawing, or a symbol that is used. @param use Attributes of the use, which go before. */
  private placeView(a: Record<string, string>, m: Matrix, view: View, use: Record<string, string>): { m: Matrix; view: View } {
    const length = (name: 'x' | 'y' | 'width' | 'height', axis: Axis, otherwise: number): number =>
      parseLength(name === 'x' || name === 'y' ? a[name] : (use[name] ?? a[name]), axis, view) ?? otherwise;
    const size = { width: length('width', 'x', view.width), height: length('height', 'y', view.height) };
    const inner = fitViewBox(length('x', 'x', 0), length('y', 'y', 0), size, a.viewBox, a.preserveAspectRatio);
    return { m: multiply(m, inner.m), view: inner.view };
  }

  private styleOf(tag: string, a: Record<string, string>, inherited: Style): Style {
    const own: Record<string, string> = {};
    for (const name of ['fill', 'stroke', 'fill-rule', 'display', 'visibility', 'clip-path', 'mask'])
      if (a[name] !== undefined) own[name] = a[name];
    const css = `${this.sheet.match(tag, a.id, a.class ?? '')};${a.style ?? ''}`;
    for (const part of css.split(';')) {
      const at = part.indexOf(':');
      if (at > 0)
        own[part.slice(0, at).trim()] = part
          .slice(at + 1)
          .replace('!important', '')
          .trim();
    }
    for (const [name, what] of [
      ['clip-path', 'clip paths'],
      ['mask', 'masks'],
    ] as const) {
      if (own[name] && own[name] !== 'none') this.ignore(`${what} were ignored: what they cut off is drawn`);
    }
    return {
      fill: own.fill ?? inherited.fill,
      stroke: own.stroke ?? inherited.stroke,
      rule: own['fill-rule'] === 'evenodd' ? 'evenodd' : own['fill-rule'] === 'nonzero' ? 'nonzero' : inherited.rule,
      gone: own.display === 'none',
      hidden: own.visibility === undefined || own.visibility === 'inherit' ? inherited.hidden : own.visibility !== 'visible',
    };
  }

  private draw(data: string, m: Matrix, style: Style, layer: string): void {
    if (!data) return;
    const filled = style.fill !== 'none' && style.fill !== 'transparent';
    if (!filled && (style.stroke === 'none' || style.stroke === 'transparent'))
      return this.ignore('shapes without fill or stroke were left out');
    const path = svgpath(data);
    const broken = (path as unknown as { err?: string }).err;
    if (broken) this.ignore('paths with a mistake were read up to it');
    const shape = this.shape++;
    const fill = filled ? { rule: style.rule, shape } : null;
    if (!this.layers.includes(layer)) this.layers.push(layer);
    let xy: number[] = [];
    const finish = (closed: boolean) => {
      if (xy.length >= 4 && xy.every(Number.isFinite)) this.lines.push({ layer, xy, closed: closed || fill !== null, fill });
      else if (xy.length >= 4) this.ignore('lines with a number that is none were left out');
      xy = [];
    };
    const put = (...own: number[]): void => {
      for (let i = 0; i < own.length; i += 2) xy.push(...map(own[i]!, own[i + 1]!));
    };
    const map = (x: number, y: number): [number, number] => [m[0] * x + m[2] * y + m[4], m[1] * x + m[3] * y + m[5]];
    const mapAll = (own: readonly number[]): number[] => own.flatMap((v, i) => (i % 2 ? [] : map(v, own[i + 1]!)));
    const scale = Math.max(1e-12, Math.hypot(m[0], m[1]), Math.hypot(m[2], m[3]));
    // Points are mapped here, and not by the path itself: mapped as arcs, a mirror would leave their sense as it was, and arcs made
    // into curves are arcs no more.
    path
      .abs()
      .unshort()
      .iterate(([type, ...v], _i, x, y) => {
        const n = v as number[];
        if (type === 'M') {
          finish(false);
          put(n[0]!, n[1]!);
          return;
        }
        if (type === 'Z') {
          const [sx, sy] = [xy[0]!, xy[1]!];
          finish(true);
          xy = [sx, sy];
          return;
        }
        if (xy.length === 0) put(x, y);
        if (type === 'L') put(n[0]!, n[1]!);
        else if (type === 'H') put(n[0]!, y);
        else if (type === 'V') put(x, n[0]!);
        else if (type === 'Q') flattenQuadratic(xy, mapAll([x, y, ...n]), this.toleranceMm);
        else if (type === 'C') flattenCubic(xy, mapAll([x, y, ...n]), this.toleranceMm);
        else if (type === 'A') put(...flattenArc(x, y, n, this.toleranceMm / scale));
      });
    finish(false);
  }
}

/**
 * Points of an elliptic arc after its start, on the very arc.
 * @param n rx, ry, rotation in degrees, large-arc flag, sweep flag, and the end. Source: SVG 1.1, appendix F.6 (from memory).
 */
function flattenArc(x0: number, y0: number, n: readonly number[], tolerance: number): number[] {
  const [, , rotationDeg, large, sweep, x1, y1] = n as [number, number, number, number, number, number, number];
  let rx = Math.abs(n[0]!),
    ry = Math.abs(n[1]!);
  if (!(rx > 0 && ry > 0)) return [x1, y1];
  if (x0 === x1 && y0 === y1) return [];
  const phi = (rotationDeg * Math.PI) / 180,
    cos = Math.cos(phi),
    sin = Math.sin(phi);
  const dx = (x0 - x1) / 2,
    dy = (y0 - y1) / 2;
  const u = cos * dx + sin * dy,
    v = -sin * dx + cos * dy;
  // Radii too small to reach are made just large enough.
  const short = Math.sqrt((u / rx) ** 2 + (v / ry) ** 2);
  if (short > 1) [rx, ry] = [rx * short, ry * short];
  const k = (large === sweep ? -1 : 1) * Math.sqrt(Math.max(0, (rx * rx * ry * ry) / (rx * rx * v * v + ry * ry * u * u) - 1));
  const cu = (k * rx * v) / ry,
    cv = (-k * ry * u) / rx;
  const centre = { x: cos * cu - sin * cv + (x0 + x1) / 2, y: sin * cu + cos * cv + (y0 + y1) / 2 };
  const start = Math.atan2((v - cv) / ry, (u - cu) / rx),
    end = Math.atan2((-v - cv) / ry, (-u - cu) / rx);
  const major = { x: rx * cos, y: rx * sin };
  const points = sweep
    ? flattenEllipse(centre, major, ry / rx, start, end, tolerance * Math.min(1, rx / ry))
    : flattenEllipse(centre, major, ry / rx, end, start, tolerance * Math.min(1, rx / ry));
  const inOrder = sweep
    ? points.slice(2)
    : Array.from({ length: points.length / 2 - 1 }, (_, i) => points.slice(points.length - 2 * i - 4, points.length - 2 * i - 2)).flat();
  // The end as it was written, to the last digit.
  inOrder.splice(inOrder.length - 2, 2, x1, y1);
  return inOrder;
}

const ACROSS: Record<string, Axis> = { x: 'x', x1: 'x', x2: 'x', cx: 'x', rx: 'x', width: 'x', r: 'both' };

/** A basic shape as path data; empty for one that draws nothing. */
export function toPath(tag: string, a: Record<string, string>, view: View = { width: 100, height: 100 }): string {
  const n = (name: string): number => parseLength(a[name], ACROSS[name] ?? 'y', view) ?? 0;
  switch (tag) {
    case 'path':
      return a.d ?? '';
    case 'line':
      return `M${n('x1')} ${n('y1')}L${n('x2')} ${n('y2')}`;
    case 'polyline':
    case 'polygon': {
      const points = (a.points ?? '')
        .trim()
        .split(/[\s,]+/)
        .map(Number);
      if (points.length < 4 || points.some((v) => !Number.isFinite(v))) return '';
      return `M${points.slice(0, points.length - (points.length % 2)).join(' ')}${tag === 'polygon' ? 'Z' : ''}`;
    }
    case 'circle':
    case 'ellipse': {
      const rx = tag === 'circle' ? n('r') : n('rx'),
        ry = tag === 'circle' ? n('r') : n('ry');
      if (!(rx > 0) || !(ry > 0)) return '';
      const [cx, cy] = [n('cx'), n('cy')];
      return `M${cx - rx} ${cy}A${rx} ${ry} 0 0 1 ${cx + rx} ${cy}A${rx} ${ry} 0 0 1 ${cx - rx} ${cy}Z`;
    }
    case 'rect': {
      const [x, y, w, h] = [n('x'), n('y'), n('width'), n('height')];
      if (!(w > 0) || !(h > 0)) return '';
      const rx = Math.min(w / 2, a.rx !== undefined ? n('rx') : n('ry')),
        ry = Math.min(h / 2, a.ry !== undefined ? n('ry') : n('rx'));
      if (!(rx > 0) || !(ry > 0)) return `M${x} ${y}h${w}v${h}h${-w}Z`;
      const arc = (dx: number, dy: number) => `a${rx} ${ry} 0 0 1 ${dx} ${dy}`;
      return `M${x + rx} ${y}h${w - 2 * rx}${arc(rx, ry)}v${h - 2 * ry}${arc(-rx, ry)}h${-(w - 2 * rx)}${arc(-rx, -ry)}v${-(h - 2 * ry)}${arc(rx, -ry)}Z`;
    }
    default:
      return '';
  }
}
