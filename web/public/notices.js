// Shows notices of waits that are over, and opens the job when one is pressed. It keeps nothing and answers no request.
self.addEventListener('install', () => self.skipWaiting());
self.addEventListener('activate', (event) => event.waitUntil(self.clients.claim()));
self.addEventListener('notificationclick', (event) => {
  event.notification.close();
  const { path } = event.notification.data;
  event.waitUntil(
    self.clients.matchAll({ type: 'window', includeUncontrolled: true }).then((pages) => {
      const [page] = pages;
      return page ? page.focus().then((shown) => shown.navigate(path)) : self.clients.openWindow(path);
    }),
  );
});
