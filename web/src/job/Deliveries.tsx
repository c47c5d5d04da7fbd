import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { ProgressBar } from "react-aria-components";
import styled from "styled-components";
import { api, explain, unwrap, type Delivery } from "../api/client";
import { Button, Notice } from "../look/controls";
import { Meter } from "../look/Meter";
import { Faint, Fetch, Plain } from "../look/layout";
import * as words from "../words/job";

const Head = styled.h2`margin-top: 16px;`;
const None = styled.p`color: var(--ink3); margin-top: 4px;`;
const Order = styled.details`border-bottom: 1px solid var(--rule); padding: 6px 0;`;
const All = styled(Meter)`margin: 6px 0;`;

const Row = styled.li`
  padding: 8px 0;
  border-bottom: 1px solid var(--rule);
  display: grid;
  gap: 4px;
  b { overflow-wrap: anywhere; }
`;
const Line = styled.div`
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
`;

const size = (n: number) => (n > 1e6 ? words.megabytes((n / 1e6).toFixed(1)) : words.kilobytes(Math.ceil(n / 1000)));

function One({ d, onCancel, onAgain }: { d: Delivery; onCancel: () => void; onAgain: () => void }) {
  const busy = d.state === "running" || d.state === "waiting";
  return (
    <Row>
      <b>{d.name}</b>
      <Line>
        <Faint className="num">
          {d.state === "running" ? `${Math.round(d.progress * 100)} %` : d.state}
          {d.bytes ? ` · ${size(d.bytes)}` : ""}
        </Faint>
        {busy && <Button onPress={onCancel}>{words.cancel}</Button>}
        {(d.state === "failed" || d.state === "cancelled") && <Button onPress={onAgain}>{words.tryAgain}</Button>}
        {d.state === "done" && (
          <Fetch href={`/api/deliveries/${d.id}/file`} download={d.name}>
            {words.saveFile}
          </Fetch>
        )}
      </Line>
      {busy && (
        <ProgressBar aria-label={words.renderingName(d.name)} value={d.progress * 100}>
          <Meter share={d.progress} />
        </ProgressBar>
      )}
      {d.problem && <p role="alert">{d.problem}</p>}
    </Row>
  );
}

/** Failed ones first, then what is running, what waits, and what is done. */
const rank = (d: Delivery) => ["failed", "running", "waiting", "done", "cancelled"].indexOf(d.state);

/** The job's deliveries with their progress. */
export function Deliveries({ job }: { job: string }) {
  const queries = useQueryClient();
  const list = useQuery({
    queryKey: ["deliveries", job],
    queryFn: () => unwrap(api.GET("/api/jobs/{job}/deliveries", { params: { path: { job } } })),
    refetchInterval: (q) => (q.state.data?.some((d) => d.state === "running" || d.state === "waiting") ? 400 : false),
  });
  const [problem, setProblem] = useState<string>();
  const act = async (call: Promise<unknown>) => {
    try {
      await call;
      setProblem(undefined);
    } catch (e) {
      setProblem(explain(e));
    }
    await queries.invalidateQueries({ queryKey: ["deliveries", job] });
  };
  const cancel = (delivery: string) => act(unwrap(api.DELETE("/api/deliveries/{delivery}", { params: { path: { delivery } } })));
  const again = (delivery: string) => act(unwrap(api.POST("/api/deliveries/{delivery}/again", { params: { path: { delivery } } })));
  const batches = new Map<string, Delivery[]>();
  for (const d of list.data ?? []) {
    const key = d.batch ?? d.id;
    batches.set(key, [...(batches.get(key) ?? []), d]);
  }
  return (
    <section aria-label={words.deliveries}>
      <Head>{words.deliveries}</Head>
      {(problem ?? list.error) && <Notice strong>{problem ?? explain(list.error)}</Notice>}
      {list.data?.length === 0 && <None>{words.nothingDeliveredYet}</None>}
      {[...batches.entries()].map(([batch, files]) => (
        <Batch key={batch} batch={batch} files={files}>
          <Plain>{[...files].sort((a, b) => rank(a) - rank(b) || a.created.localeCompare(b.created)).slice(0, 60).map((d) => <One key={d.id} d={d} onCancel={() => void cancel(d.id)} onAgain={() => void again(d.id)} />)}</Plain>
          {files.length > 60 && <None>{words.andFilesMoreTheZipHas(files.length - 60)}</None>}
        </Batch>
      ))}
    </section>
  );
}

/** What was ordered together: how far it is, the time left, and all its files at once. */
function Batch({ batch, files, children }: { batch: string; files: Delivery[]; children: ReactNode }) {
  const done = files.filter((d) => d.state === "done").length;
  const busy = files.filter((d) => d.state === "running" || d.state === "waiting");
  const failed = files.filter((d) => d.state === "failed").length;
  const share = files.reduce((n, d) => n + (d.state === "done" || d.state === "failed" || d.state === "cancelled" ? 1 : d.progress), 0) / files.length;
  const begun = Math.min(...files.map((d) => Date.parse(d.created)));
  const left = busy.length > 0 && share > 0.02 ? ((Date.now() - begun) / share) * (1 - share) : undefined;
  if (files.length === 1) return <>{children}</>;
  return (
    <Order open={busy.length > 0}>
      <summary>
        <b>{words.doneOfFiles(done, files.length)}</b>
        {failed > 0 && words.failedCounted(failed)}
        {left !== undefined && <Faint className="num"> · {left > 90000 ? words.minutesLeft(Math.round(left / 60000)) : words.secondsLeft(Math.ceil(left / 1000))}</Faint>}
      </summary>
      {busy.length > 0 && <All share={share} />}
      {done > 0 && <Fetch href={`/api/batches/${batch}/zip`} download>{done === files.length ? words.saveAllAsZip : words.saveThoseAsZip(done)}</Fetch>}
      {children}
    </Order>
  );
}
