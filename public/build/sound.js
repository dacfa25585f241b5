'use strict';
// Spoken notes are sent while they are recorded, so that a closed window loses no more than the last seconds; marks lead to moments.
(() => {
  const dialog = document.getElementById('spoken-note');
  const time = seconds => Math.floor(seconds / 60) + ':' + String(Math.floor(seconds % 60)).padStart(2, '0');
  if (dialog) {
    const part = name => dialog.querySelector('[data-' + name + ']'),
      said = dialog.querySelector('[role=status]'),
      clock = dialog.querySelector('.clock');
    let under = '',
      recorder = null;
    document.addEventListener('click', event => {
      const opens = event.target.closest('[data-opens=spoken-note]');
      if (opens) under = opens.dataset.under ?? '';
    });
    const post = async (path, values) => {
      const body = new FormData();
      for (const [name, value] of Object.entries({ _token: dialog.dataset.token, ...values })) body.append(name, value);
      const answer = await fetch(path, { method: 'POST', body });
      if (!answer.ok) throw new Error(answer.statusText);
      return answer.json();
    };
    const begin = async () => {
      const sound = await navigator.mediaDevices?.getUserMedia({ audio: true }).catch(() => null);
      if (!sound) {
        said.textContent = dialog.dataset.saidNo;
        return;
      }
      recorder = new MediaRecorder(sound, { audioBitsPerSecond: 32_000 });
      const { code, item } = await post(dialog.dataset.begin, { type: recorder.mimeType, parent: under });
      const pieces = [],
        marks = [],
        started = performance.now();
      let there = 0,
        sending = null,
        isOver = false;
      // What could not be sent is sent with what comes next; the server says how much it has.
      const send = async () => {
        while (pieces.length) {
          try {
            const answer = await fetch('/recordings/' + code + '/' + there, {
              method: 'PUT',
              body: pieces[0],
              headers: { 'X-Token': dialog.dataset.token },
            });
            if (answer.status === 409) {
              // It was ended meanwhile; what had come until then is kept.
              said.textContent = (await answer.json()).error;
              pieces.length = 0;
              if (recorder.state !== 'inactive') recorder.stop();
              return;
            }
            if (!answer.ok) throw new Error(answer.statusText);
            const now = (await answer.json()).there,
              taken = now - there;
            there = now;
            if (taken >= pieces[0].size) pieces.shift();
            else pieces[0] = pieces[0].slice(Math.max(0, taken));
            said.textContent = dialog.dataset[isOver ? 'saidOver' : 'saidRuns'];
          } catch {
            said.textContent = dialog.dataset.saidWaits;
            await new Promise(resolve => setTimeout(resolve, 2000));
          }
        }
      };
      const queue = piece => {
        if (piece.size) pieces.push(piece);
        sending = (sending ?? Promise.resolve()).then(send);
      };
      recorder.addEventListener('dataavailable', event => queue(event.data));
      recorder.addEventListener('stop', async () => {
        sound.getTracks().forEach(track => track.stop());
        isOver = true;
        await sending;
        await post('/recordings/' + code + '/end', { marks: JSON.stringify(marks) });
        location.assign(item);
      });
      const tick = setInterval(() => {
        if (recorder.state === 'inactive') return clearInterval(tick);
        clock.textContent = time((performance.now() - started) / 1000) + (marks.length ? ' · ' + marks.map(time).join(' ') : '');
      }, 200);
      part('mark').onclick = () => marks.push(Math.round((performance.now() - started) / 100) / 10);
      part('stop').onclick = () => recorder.stop();
      part('record').hidden = true;
      part('mark').hidden = part('stop').hidden = false;
      part('leave').hidden = true;
      part('stop').focus();
      said.textContent = dialog.dataset.saidRuns;
      // A piece every two seconds.
      recorder.start(2000);
    };
    part('record').addEventListener('click', () =>
      begin().catch(problem => {
        said.textContent = problem.message;
      }),
    );
    part('leave').addEventListener('click', () => dialog.close());
    dialog.addEventListener('cancel', event => recorder?.state === 'recording' && event.preventDefault());
    dialog.addEventListener('keydown', event => {
      if (event.key === 'm' && recorder?.state === 'recording') part('mark').click();
    });
  }
  document.addEventListener('click', event => {
    const seek = event.target.closest('[data-seek]'),
      sound = seek?.closest('[data-recording]').querySelector('audio');
    if (!sound) return;
    sound.currentTime = Number(seek.dataset.seek);
    sound.play();
  });
  // The box of a new mark follows the sound, until somebody types in it.
  for (const sound of document.querySelectorAll('[data-recording] audio')) {
    const box = sound.closest('[data-recording]').querySelector('[data-now]');
    sound.addEventListener('timeupdate', () => {
      if (box && document.activeElement !== box) box.value = sound.currentTime.toFixed(1);
    });
  }
})();
