'use client';

import { useEffect, useMemo } from 'react';
import * as THREE from 'three';
import type { SurfaceMesh } from '../../../core/lay/mesh';

/** Faces that meet at more than this make an edge that is drawn, degrees: none on a blank. */
const CREASE_DEG = 80;

/** Filled letters on the blank. */
export function Filled({ mesh, colour }: { mesh: SurfaceMesh; colour: string }) {
  const geometry = useMemo(() => {
    const g = new THREE.BufferGeometry();
    g.setAttribute('position', new THREE.BufferAttribute(mesh.positions, 3));
    g.setAttribute('normal', new THREE.BufferAttribute(mesh.normals, 3));
    g.setIndex(new THREE.BufferAttribute(mesh.index, 1));
    return g;
  }, [mesh]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  return (
    <mesh geometry={geometry}>
      <meshLambertMaterial color={colour} />
    </mesh>
  );
}

/** Edges of filled areas on the blank alone. */
export function Outlined({ mesh, colour }: { mesh: SurfaceMesh; colour: string }) {
  const positions = useMemo(() => {
    const faces = new THREE.BufferGeometry();
    faces.setAttribute('position', new THREE.BufferAttribute(mesh.positions, 3));
    faces.setIndex(new THREE.BufferAttribute(mesh.index, 1));
    const edges = new THREE.EdgesGeometry(faces, CREASE_DEG);
    const made = new Float32Array(edges.getAttribute('position').array);
    faces.dispose();
    edges.dispose();
    return made;
  }, [mesh]);
  return <Lines positions={positions} colour={colour} />;
}

/** Lines on the blank: pairs of points. */
export function Lines({
  positions,
  colours,
  colour,
  opacity = 1,
}: {
  positions: Float32Array;
  colours?: Float32Array;
  colour?: string;
  opacity?: number;
}) {
  const geometry = useMemo(() => {
    const g = new THREE.BufferGeometry();
    g.setAttribute('position', new THREE.BufferAttribute(positions, 3));
    if (colours) g.setAttribute('color', new THREE.BufferAttribute(colours, 3));
    return g;
  }, [positions, colours]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  return (
    <lineSegments geometry={geometry}>
      <lineBasicMaterial color={colour ?? '#ffffff'} vertexColors={Boolean(colours)} transparent={opacity < 1} opacity={opacity} />
    </lineSegments>
  );
}
