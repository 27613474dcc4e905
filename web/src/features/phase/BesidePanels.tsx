/** What stands beside the measurement: standards, timing drive, sweep, known goods, conditions; one at a time. */
import { Box } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import type { Schemas } from "../../api/client";
import { capturesQuery, enginePageQuery, jobQuery } from "../../api/queries";
import { Choice, useKeys } from "../../ui";
import { ConditionsPanel, DrivePanel, LibraryPanel, StandardsPanel, SweepPanel } from "../standards";

type Panel = "standards" | "drive" | "sweep" | "library" | "conditions";
type Props = {
  jobId: number;
  capture: Schemas["ImportedCapture"];
  result: Schemas["CaptureResult"];
  lanes: Schemas["CamLane"][];
  analysis: Schemas["Analysis"] | null;
};

export function BesidePanels({ jobId, capture, result, lanes, analysis }: Props) {
  const swept = capture.phasers === "sweep" || (result.phasers ?? []).length > 0;
  const [panel, setPanel] = useState<Panel>(swept ? "sweep" : "standards");
  const job = useQuery(jobQuery(jobId));
  const captures = useQuery(capturesQuery(jobId));
  const engineId = job.data?.engine.id;
  const engine = useQuery({ ...enginePageQuery(engineId ?? 0), enabled: engineId !== undefined });
  useKeys({
    s: () => setPanel("standards"),
    v: () => setPanel("drive"),
    p: () => setPanel("sweep"),
    k: () => setPanel("library"),
    n: () => setPanel("conditions"),
  });
  const cams = (engine.data?.document["cams"] ?? []) as { id: string; phaser?: unknown }[];
  const moved = cams.filter((cam) => cam.phaser).map((cam) => ({ id: cam.id, name: lanes.find((lane) => lane.cam === cam.id)?.name ?? cam.id }));
  return (
    <Box mt="4">
      <Choice
        label="Beside it"
        options={[
          { value: "standards", text: "Standards", title: "Key S" },
          { value: "drive", text: "Timing drive", title: "Key V" },
          { value: "sweep", text: "Phaser sweep", title: "Key P" },
          { value: "library", text: "Known goods", title: "Key K" },
          { value: "conditions", text: "Conditions", title: "Key N" },
        ]}
        value={panel}
        onPick={setPanel}
      />
      {panel === "standards" && <StandardsPanel jobId={jobId} result={result} lanes={lanes} />}
      {panel === "drive" && engineId !== undefined && (
        <DrivePanel engineId={engineId} result={result} elongation={analysis?.elongation ?? null} lanes={lanes} />
      )}
      {panel === "sweep" && (
        <SweepPanel jobId={jobId} capture={capture} phasers={result.phasers ?? []} cams={moved} captures={captures.data ?? []} />
      )}
      {panel === "library" && <LibraryPanel jobId={jobId} capture={capture} />}
      {panel === "conditions" && <ConditionsPanel conditions={analysis?.conditions ?? null} lanes={lanes} steps={result.cams ?? []} />}
    </Box>
  );
}
