import { encode } from 'fast-png';
import type { DepthMap } from './depthMap';

/** A depth map as 16-bit grey PNG. */
export const toDepthPng = ({ widthCells: width, heightCells: height, grey }: DepthMap): Uint8Array =>
  encode({ width, height, data: grey, depth: 16, channels: 1 });
