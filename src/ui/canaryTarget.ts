export const STARTER = 1;
