/** Shows what this house tells a browser, and leads to it. Registered only where somebody has wished to be told. */
interface PushScope {
  registration: { showNotification(title: string, options: object): Promise<void> };
  clients: {
    matchAll(options: object): Promise<readonly { url: string; focus(): Promise<unknown> }[]>;
    openWindow(url: string): Promise<unknown>;
  };
  addEventListener(
    name: 'push' | 'notificationclick',
    hear: (event: {
      data: { json(): { title: string; body: string; path: string } } | null;
      notification: { close(): void; data: { path: string } };
      waitUntil(work: Promise<unknown>): void;
    }) => void,
  ): void;
}

const scope = self as unknown as PushScope;

scope.addEventListener('push', (event) => {
  const told = event.data?.json();
  if (!told) return;
  event.waitUntil(
    scope.registration.showNotification(told.title, {
      body: told.body,
      // A later one takes the place of the one before: they never pile up.
      tag: 'gemmel',
      data: { path: told.path },
    }),
  );
});

scope.addEventListener('notificationclick', (event) => {
  event.notification.close();
  const { path } = event.notification.data;
  event.waitUntil(
    scope.clients
      .matchAll({ type: 'window', includeUncontrolled: true })
      .then(
        (windows) =>
          windows.find(({ url }) => new URL(url).pathname === path)?.focus() ?? scope.clients.openWindow(path),
      ),
  );
});
