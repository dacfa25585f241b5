// What was shared while there was no network waits here, until the application is open again.
(() => {
  const here = new URL(location.href);
  if (here.pathname === '/keep' && here.search !== '') {
    const waiting = JSON.parse(localStorage.getItem('ypomna-shared') ?? '[]');
    if (!waiting.includes(here.search)) waiting.push(here.search);
    localStorage.setItem('ypomna-shared', JSON.stringify(waiting.slice(-50)));
    document.getElementById('kept-here').hidden = false;
  }
})();
