// Entries that wait for the connection, in the browser's own store; each belongs to one person.
const open = () =>
  new Promise((resolve, reject) => {
    const asked = indexedDB.open("tally", 1);
    asked.onupgradeneeded = () => asked.result.createObjectStore("waiting", { keyPath: "id", autoIncrement: true });
    asked.onsuccess = () => resolve(asked.result);
    asked.onerror = () => reject(asked.error);
  });

const inStore = async (mode, act) => {
  const store = await open();
  try {
    return await new Promise((resolve, reject) => {
      const change = store.transaction("waiting", mode);
      const asked = act(change.objectStore("waiting"));
      change.oncomplete = () => resolve(asked?.result);
      change.onerror = () => reject(change.error);
    });
  } finally {
    store.close();
  }
};

export const all = async (user) => (await inStore("readonly", (rows) => rows.getAll())).filter((row) => row.user === user);
export const add = (row) => inStore("readwrite", (rows) => rows.add(row));
export const keep = (row) => inStore("readwrite", (rows) => rows.put(row));
export const drop = (id) => inStore("readwrite", (rows) => rows.delete(id));
// One person's entries go; the store itself when nothing of anybody is left in it.
export const clear = async (user) => {
  const rows = await inStore("readonly", (store) => store.getAll());
  const mine = rows.filter((row) => row.user === user);
  for (const row of mine) await drop(row.id);
  if (mine.length === rows.length) indexedDB.deleteDatabase("tally");
};
