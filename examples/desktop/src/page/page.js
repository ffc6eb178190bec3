const by = (id) => document.getElementById(id);
const main = document.querySelector('main');

/** Calls the application's own process. */
const call = async (method, path, body, raw) => {
  const response = await fetch(path, {
    method,
    ...(raw
      ? { body: raw }
      : body
        ? { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }
        : {}),
  });
  if (response.status === 204) return null;
  const text = await response.text();
  if (!response.ok) throw new Error(JSON.parse(text).said ?? text);
  return JSON.parse(text);
};

/** Questions to the shell that wait for their answers. */
const asked = new Map();
let calls = 0;
globalThis.shellAnswer = (number, value) => {
  asked.get(number)?.(value);
  asked.delete(number);
};
const shell = globalThis.webkit?.messageHandlers?.shell ?? null;
const ask = (question) =>
  new Promise((done) => {
    asked.set(++calls, done);
    shell.postMessage(JSON.stringify({ call: calls, ...question }));
  });

const REPORTS = [{ description: 'Report', accept: { 'application/json': ['.json'] } }];
const cancelled = (error) => {
  if (error.name === 'AbortError') return null;
  throw error;
};

/** The desktop's own dialogues: those of the shell where it has them, and the browser's. */
const dialogues = shell
  ? {
      open: async () => {
        const path = await ask({ save: false });
        return path && { path };
      },
      save: async (name) => {
        const path = await ask({ save: true, name });
        return path && { path };
      },
    }
  : {
      open: async () => {
        const chosen = await globalThis.showOpenFilePicker({ types: REPORTS }).catch(cancelled);
        if (!chosen) return null;
        const file = await chosen[0].getFile();
        return { handle: chosen[0], name: file.name, text: await file.text() };
      },
      save: async (name) => {
        const handle = await globalThis.showSaveFilePicker({ suggestedName: name }).catch(cancelled);
        return handle && { handle };
      },
    };

const writeTo = async (handle, content) => {
  const writable = await handle.createWritable();
  await writable.write(content);
  await writable.close();
};

/** What is open: its report's id and name, its file by path or handle, and the element that shows it. */
let open = null;

const fetchToken = async () => (await call('GET', 'token')).token;

const tell = (more = {}) => {
  const state = { document: open?.id ?? null, isUnsaved: open?.element.isUnsaved ?? false, pages: null, ...more };
  const file = open?.path ?? open?.handle?.name ?? '';
  by('name').textContent = open ? `${state.isUnsaved ? '• ' : ''}${open.name}${file ? ` — ${file}` : ''}` : 'Cumeeira';
  document.title = open ? `${state.isUnsaved ? '• ' : ''}${open.name}` : 'Cumeeira';
  return call('PUT', 'window', state);
};

const said = (error) => {
  by('said').textContent = error ? error.message : '';
};

/** Does something, and says what went wrong. */
const trying = (what) => async (event) => {
  said(null);
  try {
    await what(event);
  } catch (error) {
    said(error);
  }
};

const show = (kind) => {
  const element = document.createElement(`gaveta-${kind}`);
  element.server = new URL('gaveta/', location.href).href;
  element.report = open.id;
  element.fetchToken = fetchToken;
  element.setAttribute('hide', 'language');
  element.addEventListener('unsaved', () => tell());
  element.addEventListener('page-count', ({ detail }) => tell({ pages: detail.pages }));
  element.addEventListener('saved', trying(written));
  element.addEventListener('error', ({ detail }) => said({ message: detail.detail }));
  open.element = element;
  main.replaceChildren(element);
  for (const id of ['save', 'save-as']) by(id).disabled = kind === 'viewer';
  for (const id of ['export', 'print']) by(id).disabled = kind !== 'viewer';
  by('switch').disabled = false;
  by('switch').textContent = kind === 'viewer' ? 'Design' : 'Read';
  return tell();
};

/** What was saved in the store goes to its file. */
const written = async () => {
  const definition = await call('GET', `documents/${open.id}`);
  open.name = definition.name;
  if (open.handle) await writeTo(open.handle, `${JSON.stringify(definition, null, 2)}\n`);
  else if (open.path) await call('PUT', `documents/${open.id}`, {});
  await tell();
};

const mayLeave = () => !open?.element.isUnsaved || confirm('Leave without saving?');

const openDocument = async (given, handle) => {
  if (!mayLeave()) return;
  const { id, name, path } = await call('POST', 'documents', given);
  open = { id, name, path, handle, element: null };
  await show('designer');
  await listRecent();
};

const listRecent = async () => {
  const files = await call('GET', 'documents');
  by('recent').replaceChildren(
    new Option('Recent', ''),
    ...files.map((file) => new Option(file.split('/').at(-1), file)),
  );
};

by('new').onclick = trying(() => openDocument({ text: '{"gaveta":2,"name":"New report"}', name: 'New report' }));
by('open').onclick = trying(async () => {
  const chosen = await dialogues.open();
  if (chosen)
    await openDocument(chosen.path ? { path: chosen.path } : { text: chosen.text, name: chosen.name }, chosen.handle);
});
by('recent').onchange = trying(async () => {
  const path = by('recent').value;
  by('recent').value = '';
  if (path) await openDocument({ path });
});
by('save').onclick = trying(async () => {
  // What is saved is told, and written to its file then.
  if (open.path || open.handle) await open.element.save();
  else await saveAs();
});
const saveAs = async () => {
  const chosen = await dialogues.save(`${open.name}.report.json`);
  if (!chosen) return;
  Object.assign(open, { path: null, handle: null }, chosen);
  if (open.element.isUnsaved) await open.element.save();
  if (chosen.path) await call('PUT', `documents/${open.id}`, { path: chosen.path });
  await written();
  await listRecent();
};
by('save-as').onclick = trying(saveAs);
by('switch').onclick = trying(async () => {
  if (open.element.isUnsaved) await open.element.save();
  await show(open.element.localName === 'gaveta-viewer' ? 'designer' : 'viewer');
});
by('export').onclick = trying(async () => {
  const file = await open.element.export('pdf');
  const chosen = await dialogues.save(file.name);
  if (chosen?.path) await call('PUT', `exports?path=${encodeURIComponent(chosen.path)}`, null, file);
  else if (chosen) await writeTo(chosen.handle, file);
});
by('print').onclick = trying(() => open.element.print());

/** What the menu does, by key. */
const KEYS = { o: 'open', e: 'export', s: 'save', S: 'save-as' };
addEventListener('keydown', (event) => {
  const button = (event.ctrlKey || event.metaKey) && by(KEYS[event.key]);
  if (!button || button.disabled) return;
  event.preventDefault();
  button.click();
});

// Files that are opened from outside: by double click, or another start of the application.
new EventSource('window').onmessage = trying(({ data }) => openDocument({ path: JSON.parse(data) }));
await listRecent();
await tell();
