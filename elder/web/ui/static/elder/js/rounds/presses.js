// What was pressed on this phone and is not yet known to be written down: one store a person, so that nobody reads or
// sends what another pressed. A press is kept before it is sent, and taken out only on an answer that is Elder's own.
(function () {
  const person = document.body.dataset.person || "";
  const PREFIX = "elder-presses-",
    PEOPLE = "elder-people",
    STORE = "presses";

  // Whoever pressed here before: what they left goes when somebody else has signed in.
  const known = function () {
    return JSON.parse(localStorage.getItem(PEOPLE) || "[]");
  };
  const forget = function (who) {
    indexedDB.deleteDatabase(PREFIX + who);
    localStorage.setItem(
      PEOPLE,
      JSON.stringify(
        known().filter(function (one) {
          return one !== who;
        }),
      ),
    );
  };
  if (!window.indexedDB || !person) return;
  known().forEach(function (who) {
    if (who !== person) forget(who);
  });

  let opened = null;
  const open = function () {
    opened =
      opened ||
      new Promise(function (resolve, reject) {
        localStorage.setItem(PEOPLE, JSON.stringify([person]));
        const ask = indexedDB.open(PREFIX + person, 1);
        ask.onupgradeneeded = function () {
          ask.result.createObjectStore(STORE, { keyPath: "id", autoIncrement: true });
        };
        ask.onsuccess = function () {
          // Another page of this browser signs out, or somebody else signs in there: let go of it.
          ask.result.onversionchange = function () {
            ask.result.close();
            opened = null;
          };
          resolve(ask.result);
        };
        ask.onerror = function () {
          opened = null;
          reject(ask.error);
        };
      });
    return opened;
  };
  const run = async function (mode, work) {
    const database = await open();
    return new Promise(function (resolve, reject) {
      const transaction = database.transaction(STORE, mode, { durability: "strict" });
      const ask = work(transaction.objectStore(STORE));
      transaction.oncomplete = function () {
        resolve(ask.result);
      };
      transaction.onabort = transaction.onerror = function () {
        reject(transaction.error);
      };
    });
  };

  window.elderPresses = {
    person: person,
    // In the order they were pressed.
    all: function () {
      return run("readonly", function (store) {
        return store.getAll();
      });
    },
    one: function (id) {
      return run("readonly", function (store) {
        return store.get(id);
      });
    },
    // Its id, once it is on the disk.
    put: function (item) {
      return run("readwrite", function (store) {
        return store.put(item);
      });
    },
    drop: function (id) {
      return run("readwrite", function (store) {
        return store.delete(id);
      });
    },
    forgetAll: function () {
      forget(person);
    },
  };
})();
