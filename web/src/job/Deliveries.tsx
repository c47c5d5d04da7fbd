import { useQuery, useQueryClient } from "@tanstack/react-query";
import { ProgressBar } from "react-aria-components";
import styled from "styled-components";
import { api, explain, unwrap, type Delivery } from "../api/client";
import { Button, Notice } from "../look/controls";
import { Meter } from "./JobPage";

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

const size = (n: number) => (n > 1e6 ? `${(n / 1e6).toFixed(1)} MB` : `${Math.ceil(n / 1000)} kB`);

function One({ d, onCancel }: { d: Delivery; onCancel: () => void }) {
  const busy = d.state === "running" || d.state === "waiting";
  return (
    <Row>
      <b>{d.name}</b>
      <Line>
        <span className="num" style={{ color: "var(--ink3)" }}>
          {d.state === "running" ? `${Math.round(d.progress * 100)} %` : d.state}
          {d.bytes ? ` · ${size(d.bytes)}` : ""}
        </span>
        {busy && <Button onPress={onCancel}>Cancel</Button>}
        {d.state === "done" && (
          <a href={`/api/deliveries/${d.id}/file`} download={d.name} style={{ fontWeight: 600, textDecoration: "underline" }}>
            Save file
          </a>
        )}
      </Line>
      {busy && (
        <ProgressBar aria-label={`Rendering ${d.name}`} value={d.progress * 100}>
          <Meter><i style={{ width: `${d.progress * 100}%` }} /></Meter>
        </ProgressBar>
      )}
      {d.problem && <p role="alert">{d.problem}</p>}
    </Row>
  );
}

/** The job's deliveries with their progress. */
export function Deliveries({ job }: { job: string }) {
  const queries = useQueryClient();
  const list = useQuery({
    queryKey: ["deliveries", job],
    queryFn: () => unwrap(api.GET("/api/jobs/{job}/deliveries", { params: { path: { job } } })),
    refetchInterval: (q) => (q.state.data?.some((d) => d.state === "running" || d.state === "waiting") ? 400 : false),
  });
  const cancel = async (delivery: string) => {
    await unwrap(api.DELETE("/api/deliveries/{delivery}", { params: { path: { delivery } } }));
    await queries.invalidateQueries({ queryKey: ["deliveries", job] });
  };
  return (
    <section aria-label="Deliveries">
      <h2 style={{ marginTop: 16 }}>Deliveries</h2>
      {list.error && <Notice strong>{explain(list.error)}</Notice>}
      {list.data?.length === 0 && <p style={{ color: "var(--ink3)", marginTop: 4 }}>Nothing delivered yet. Open a picture and press Deliver.</p>}
      <ul style={{ listStyle: "none", margin: 0, padding: 0 }}>{list.data?.map((d) => <One key={d.id} d={d} onCancel={() => void cancel(d.id)} />)}</ul>
    </section>
  );
}
