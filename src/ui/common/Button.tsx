import RbButton, { type ButtonProps } from 'react-bootstrap/Button';
import type { FC } from 'react';

/** The typings of the 3D scene and of this button together are too much for the compiler: narrowed once, here. */
export const Button = RbButton as unknown as FC<ButtonProps>;
