import { request, type FullConfig } from '@playwright/test';

/** Waits until the made-up household has come in and has said what it has to say. */
export default async function household(config: FullConfig): Promise<void> {
  const base = config.projects[0]!.use.baseURL!;
  const api = await request.newContext({ baseURL: base });
  await api.post('/api/sign-in', { data: { email: 'ilse@hallorin.example', password: 'sunday-table' } });
  const until = Date.now() + 240_000;
  for (;;) {
    const { albums } = (await (await api.get('/api/albums')).json()) as { albums: unknown[] };
    const { groups } = (await (await api.get('/api/introductions')).json()) as { groups: unknown[] };
    if (albums.length >= 4 && groups.length > 2) break;
    if (Date.now() > until) throw new Error('The household did not come in within four minutes.');
    await new Promise((resolve) => setTimeout(resolve, 1000));
  }
  await api.dispose();
}
