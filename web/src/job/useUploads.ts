import { useCallback, useState } from "react";
import { problemOf } from "../api/client";
import * as words from "../words/job";

export interface Upload {
  key: number;
  name: string;
  file: File;
  /** 0..1 sent; at 1 the server reads the file. */
  sent: number;
  state: "waiting" | "sending" | "done" | "failed";
  problem?: string;
}

let next = 1;
const atOnce = 2;

/** Sends files into a job, a few at a time; one that fails leaves the others alone. */
export function useUploads(job: string, onAdded: () => void) {
  const [list, setList] = useState<Upload[]>([]);
  const set = useCallback((key: number, change: Partial<Upload>) => setList((l) => l.map((u) => (u.key === key ? { ...u, ...change } : u))), []);

  const send = useCallback(
    (u: Upload) =>
      new Promise<void>((done) => {
        const x = new XMLHttpRequest();
        x.open("POST", `/api/jobs/${job}/pictures?name=${encodeURIComponent(u.name)}`);
        x.setRequestHeader("Content-Type", "application/octet-stream");
        x.upload.onprogress = (e) => { if (e.total > 0) set(u.key, { sent: e.loaded / e.total }); };
        const fail = (problem: string) => {
          set(u.key, { state: "failed", problem });
          done();
        };
        x.onerror = () => fail(words.theServerDoesNotAnswerNothing);
        x.onload = () => {
          if (x.status === 201) {
            set(u.key, { state: "done", sent: 1 });
            onAdded();
            done();
            return;
          }
          let body: unknown;
          try {
            body = JSON.parse(x.responseText);
          } catch {
            body = undefined;
          }
          fail(problemOf(body, x.status).message);
        };
        set(u.key, { state: "sending", sent: 0, problem: undefined });
        x.send(u.file);
      }),
    [job, onAdded, set],
  );

  const run = useCallback(
    async (fresh: Upload[]) => {
      const queue = [...fresh];
      await Promise.all(
        Array.from({ length: atOnce }, async () => {
          for (let u = queue.shift(); u; u = queue.shift()) await send(u);
        }),
      );
    },
    [send],
  );

  const add = useCallback(
    (files: File[]) => {
      const fresh = files.map((file): Upload => ({ key: next++, name: file.name, file, sent: 0, state: "waiting" }));
      setList((l) => [...l, ...fresh]);
      void run(fresh);
    },
    [run],
  );
  const again = useCallback((u: Upload) => void run([u]), [run]);
  const dismiss = useCallback((key: number) => setList((l) => l.filter((u) => u.key !== key)), []);
  return { list, add, again, dismiss };
}
