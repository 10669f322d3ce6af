/** A font of the type case as lists show it. */
export interface FontCard {
  id: string;
  family: string;
  style: string;
  kind: 'outline' | 'stroke';
  /** Sans, serif, script …; `own` for one that was put in. */
  class: string;
  weight: number;
  italic: boolean;
  sha256: string;
  /** Put in here, rather than shipped. */
  own: boolean;
}
