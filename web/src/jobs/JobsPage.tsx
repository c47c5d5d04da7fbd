import { useMutation, useQuery } from "@tanstack/react-query";
import styled from "styled-components";
import { api, explain, unwrap } from "../api/client";
import { Bar, Brand, Button, Notice, Space } from "../look/controls";
import { go } from "../router";

export const Grid = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(216px, 1fr));
  gap: 20px 16px;
`;
export const Cover = styled.span`
  display: block;
  aspect-ratio: 3 / 2;
  border-radius: 5px;
  background: #d9d9d9;
  overflow: hidden;
  margin-bottom: 7px;
  img { width: 100%; height: 100%; object-fit: cover; display: block; }
`;
const Page = styled.main`
  padding: 24px 22px;
  display: grid;
  gap: 20px;
`;

/** All jobs. */
export function JobsPage() {
  const jobs = useQuery({ queryKey: ["jobs"], queryFn: () => unwrap(api.GET("/api/jobs")) });
  const create = useMutation({
    mutationFn: () => unwrap(api.POST("/api/jobs", { body: { name: "New job" } })),
    onSuccess: (j) => go(`/jobs/${j.id}`),
  });
  return (
    <>
      <Bar>
        <Brand onGo={(e) => e.preventDefault()} />
        <Space />
        <Button $kind="solid" onPress={() => create.mutate()} isDisabled={create.isPending}>
          New job
        </Button>
      </Bar>
      <Page>
        <h1>Jobs</h1>
        {(jobs.error ?? create.error) && <Notice strong>{explain(jobs.error ?? create.error)}</Notice>}
        {jobs.data?.length === 0 && <Notice>No job yet. Make one, then drop photos into it.</Notice>}
        <Grid>
          {jobs.data?.map((j) => (
            <li key={j.id}>
              <a
                href={`/jobs/${j.id}`}
                onClick={(e) => {
                  e.preventDefault();
                  go(`/jobs/${j.id}`);
                }}
              >
                <Cover>{j.cover && <img src={`/api/pictures/${j.cover}/cover?size=480`} alt="" loading="lazy" />}</Cover>
                <b>{j.name}</b>
                <div className="num" style={{ color: "var(--ink3)" }}>
                  {j.pictures} {j.pictures === 1 ? "picture" : "pictures"}
                </div>
              </a>
            </li>
          ))}
        </Grid>
      </Page>
    </>
  );
}
