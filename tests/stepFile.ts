/**
 * Writes small STEP files of known solids for the tests: boundary representations by ISO 10303-21 and AP214 (from memory), planes
 * and one cylinder. Nothing in the product writes STEP.
 */
class StepWriter {
  private readonly lines: string[] = [];
  add(entity: string): string {
    this.lines.push(entity);
    return `#${this.lines.length}`;
  }
  point = (p: readonly number[]): string => this.add(`CARTESIAN_POINT('',(${p.map(real).join(',')}))`);
  direction = (p: readonly number[]): string => this.add(`DIRECTION('',(${p.map(real).join(',')}))`);
  placement = (at: readonly number[], z: readonly number[], x: readonly number[]): string =>
    this.add(`AXIS2_PLACEMENT_3D('',${this.point(at)},${this.direction(z)},${this.direction(x)})`);

  finish(root: string, unit: 'mm' | 'inch'): string {
    const length = this.add(
      unit === 'mm' ? '(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.))' : '(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.))',
    );
    let used = length;
    if (unit === 'inch') {
      const dims = this.add('DIMENSIONAL_EXPONENTS(1.,0.,0.,0.,0.,0.,0.)');
      const measure = this.add(`LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(25.4),${length})`);
      used = this.add(`(CONVERSION_BASED_UNIT('INCH',${measure})LENGTH_UNIT()NAMED_UNIT(${dims}))`);
    }
    const angle = this.add('(NAMED_UNIT(*)PLANE_ANGLE_UNIT()SI_UNIT($,.RADIAN.))');
    const solid = this.add('(NAMED_UNIT(*)SI_UNIT($,.STERADIAN.)SOLID_ANGLE_UNIT())');
    const uncertainty = this.add(`UNCERTAINTY_MEASURE_WITH_UNIT(LENGTH_MEASURE(1.E-6),${used},'distance_accuracy_value','')`);
    const context = this.add(
      `(GEOMETRIC_REPRESENTATION_CONTEXT(3)GLOBAL_UNCERTAINTY_ASSIGNED_CONTEXT((${uncertainty}))GLOBAL_UNIT_ASSIGNED_CONTEXT((${used},${angle},${solid}))REPRESENTATION_CONTEXT('',''))`,
    );
    const axis = this.placement([0, 0, 0], [0, 0, 1], [1, 0, 0]);
    const shape = this.add(
      root ? `ADVANCED_BREP_SHAPE_REPRESENTATION('',(${axis},${root}),${context})` : `SHAPE_REPRESENTATION('',(${axis}),${context})`,
    );
    const application = this.add(`APPLICATION_CONTEXT('automotive design')`);
    const productContext = this.add(`PRODUCT_CONTEXT('',${application},'mechanical')`);
    const product = this.add(`PRODUCT('test','test','',(${productContext}))`);
    const formation = this.add(`PRODUCT_DEFINITION_FORMATION('','',${product})`);
    const definitionContext = this.add(`PRODUCT_DEFINITION_CONTEXT('part definition',${application},'design')`);
    const definition = this.add(`PRODUCT_DEFINITION('','',${formation},${definitionContext})`);
    const definitionShape = this.add(`PRODUCT_DEFINITION_SHAPE('','',${definition})`);
    this.add(`SHAPE_DEFINITION_REPRESENTATION(${definitionShape},${shape})`);
    return [
      'ISO-10303-21;',
      'HEADER;',
      "FILE_DESCRIPTION((''),'2;1');",
      "FILE_NAME('test','2026-01-01T00:00:00',(''),(''),'','','');",
      "FILE_SCHEMA(('AUTOMOTIVE_DESIGN { 1 0 10303 214 1 1 1 1 }'));",
      'ENDSEC;',
      'DATA;',
      ...this.lines.map((l, i) => `#${i + 1}=${l};`),
      'ENDSEC;',
      'END-ISO-10303-21;',
      '',
    ].join('\n');
  }
}

const real = (v: number): string => (Number.isInteger(v) ? `${v}.` : String(v).replace('e', 'E'));
const sub = (a: readonly number[], b: readonly number[]): number[] => a.map((v, k) => v - b[k]!);
const unit = (a: readonly number[]): number[] => a.map((v) => v / Math.hypot(...a));

/** A block from the origin to (x, y, z), in a file of mm or inches. */
export function stepBlock(x: number, y: number, z: number, units: 'mm' | 'inch' = 'mm'): string {
  const w = new StepWriter();
  const corners = Array.from({ length: 8 }, (_, i) => [i & 1 ? x : 0, i & 2 ? y : 0, i & 4 ? z : 0]);
  const vertices = corners.map((c) => w.add(`VERTEX_POINT('',${w.point(c)})`));
  const edges = new Map<string, string>();
  const edge = (a: number, b: number): string => {
    const [lo, hi] = a < b ? [a, b] : [b, a];
    const key = `${lo},${hi}`;
    if (!edges.has(key)) {
      const along = sub(corners[hi]!, corners[lo]!);
      const line = w.add(
        `LINE('',${w.point(corners[lo]!)},${w.add(`VECTOR('',${w.direction(unit(along))},${real(Math.hypot(...along))})`)})`,
      );
      edges.set(key, w.add(`EDGE_CURVE('',${vertices[lo]!},${vertices[hi]!},${line},.T.)`));
    }
    return w.add(`ORIENTED_EDGE('',*,*,${edges.get(key)!},${a < b ? '.T.' : '.F.'})`);
  };
  // Each face counter-clockwise seen from outside.
  const faces = [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ].map((loop) => {
    const [a, b, d] = [corners[loop[0]!]!, corners[loop[1]!]!, corners[loop[3]!]!];
    const u = unit(sub(b, a)),
      v = unit(sub(d, a));
    const n = [u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!];
    const bound = w.add(
      `FACE_OUTER_BOUND('',${w.add(`EDGE_LOOP('',(${loop.map((c, k) => edge(c, loop[(k + 1) % 4]!)).join(',')}))`)},.T.)`,
    );
    return w.add(`ADVANCED_FACE('',(${bound}),${w.add(`PLANE('',${w.placement(a, n, u)})`)},.T.)`);
  });
  return w.finish(w.add(`MANIFOLD_SOLID_BREP('',${w.add(`CLOSED_SHELL('',(${faces.join(',')}))`)})`), units);
}

/** A cylinder about z from z = 0. */
export function stepCylinder(radius: number, height: number): string {
  const w = new StepWriter();
  const low = w.add(`VERTEX_POINT('',${w.point([radius, 0, 0])})`),
    high = w.add(`VERTEX_POINT('',${w.point([radius, 0, height])})`);
  const circle = (z: number, v: string): string =>
    w.add(`EDGE_CURVE('',${v},${v},${w.add(`CIRCLE('',${w.placement([0, 0, z], [0, 0, 1], [1, 0, 0])},${real(radius)})`)},.T.)`);
  const bottom = circle(0, low),
    top = circle(height, high);
  const seam = w.add(
    `EDGE_CURVE('',${low},${high},${w.add(`LINE('',${w.point([radius, 0, 0])},${w.add(`VECTOR('',${w.direction([0, 0, 1])},1.)`)})`)},.T.)`,
  );
  const run = (e: string, forth: boolean): string => w.add(`ORIENTED_EDGE('',*,*,${e},${forth ? '.T.' : '.F.'})`);
  const face = (edges: string[], surface: string, same: boolean): string =>
    w.add(
      `ADVANCED_FACE('',(${w.add(`FACE_OUTER_BOUND('',${w.add(`EDGE_LOOP('',(${edges.join(',')}))`)},.T.)`)}),${surface},${same ? '.T.' : '.F.'})`,
    );
  const side = face(
    [run(bottom, true), run(seam, true), run(top, false), run(seam, false)],
    w.add(`CYLINDRICAL_SURFACE('',${w.placement([0, 0, 0], [0, 0, 1], [1, 0, 0])},${real(radius)})`),
    true,
  );
  const lid = face([run(top, true)], w.add(`PLANE('',${w.placement([0, 0, height], [0, 0, 1], [1, 0, 0])})`), true);
  const foot = face([run(bottom, false)], w.add(`PLANE('',${w.placement([0, 0, 0], [0, 0, -1], [1, 0, 0])})`), true);
  return w.finish(w.add(`MANIFOLD_SOLID_BREP('',${w.add(`CLOSED_SHELL('',(${[side, lid, foot].join(',')}))`)})`), 'mm');
}

/** A STEP file with no solid in it. */
export const stepNothing = (): string => new StepWriter().finish('', 'mm');
