/** Nominal heights of ISO 3098-1, mm, each √2 times the one before, rounded (from memory). Line width: h/14 (type A) or h/10 (B). */
export const ISO_HEIGHTS = [1.8, 2.5, 3.5, 5, 7, 10, 14, 20] as const;
