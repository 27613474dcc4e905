/** Shows the station that the address names. */
import { Navigate, useOutletContext, useParams } from "react-router";

import { PhotoStrip } from "../photos";
import type { JobContext } from "./JobPage";
import { STATIONS } from "./stations";

export function StationPage() {
  const { station: id } = useParams();
  const { job } = useOutletContext<JobContext>();
  const station = STATIONS.find((s) => s.id === id);
  if (!station) return <Navigate to={`/jobs/${String(job.id)}/phase`} replace />;
  return (
    <>
      <station.component key={station.id} job={job} />
      <PhotoStrip key={`photos ${station.id}`} jobId={job.id} station={station.id} />
    </>
  );
}
