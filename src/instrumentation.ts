/** Runs once when the server starts: migrates and seeds, so that the first request does not pay for it. */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME !== 'nodejs') return;
  const { openShop } = await import('./server/shop');
  try {
    openShop();
  } catch (error) {
    // The server still starts and tells the reader what is wrong on every request.
    console.error(`database: ${(error as Error).message}`);
  }
}
