import { Field, Flex, Input, NativeSelect, Textarea } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { useNavigate } from "react-router";

import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import { enginesQuery } from "../../api/queries";
import { ActionButton, ErrorNote, Sheet } from "../../ui";
import { ImportProfile } from "../engines";

type NewJob = Schemas["NewJob"];

export function NewJobDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Sheet title="New job" open={open} onClose={onClose}>
      <JobForm />
    </Sheet>
  );
}

function JobForm() {
  const engines = useQuery(enginesQuery);
  const changes = useChanges();
  const navigate = useNavigate();
  const [vehicle, setVehicle] = useState("");
  const [makeModel, setMakeModel] = useState("");
  const [complaint, setComplaint] = useState("");
  const [codes, setCodes] = useState("");
  const [picked, setPicked] = useState<number | null>(null);
  const engineId = picked ?? engines.data?.[0]?.id ?? null;
  const open = useMutation({
    mutationFn: (body: NewJob) => taken(client.POST("/api/jobs", { body })),
    onSuccess: async (job) => {
      await changes.jobOpened();
      await navigate(`/jobs/${job.id}/captures`);
    },
  });
  const submit = () => {
    if (engineId === null) return;
    open.mutate({
      vehicle,
      make_model: makeModel,
      complaint,
      codes: codes.split(/[\s,;]+/).filter(Boolean),
      engine_id: engineId,
    });
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
    >
      <Flex direction="column" gap="3">
        <Row label="Vehicle" required help="The name the pool knows it by">
          <Input autoFocus value={vehicle} onChange={(e) => setVehicle(e.target.value)} maxLength={120} borderColor="mute" />
        </Row>
        <Row label="Make and model">
          <Input value={makeModel} onChange={(e) => setMakeModel(e.target.value)} maxLength={200} borderColor="mute" />
        </Row>
        <Row label="Complaint">
          <Textarea rows={2} value={complaint} onChange={(e) => setComplaint(e.target.value)} borderColor="mute" />
        </Row>
        <Row label="Stored codes">
          <Input value={codes} onChange={(e) => setCodes(e.target.value)} borderColor="mute" />
        </Row>
        <Row label="Engine" required>
          <Flex gap="2" w="full">
            <NativeSelect.Root>
              <NativeSelect.Field
                value={engineId ?? ""}
                onChange={(e) => setPicked(Number(e.target.value))}
                borderColor="mute"
              >
                {engines.data?.length === 0 && <option value="">No profile yet</option>}
                {engines.data?.map((engine) => (
                  <option key={engine.id} value={engine.id}>
                    {engine.name}
                    {engine.version > 1 ? `, version ${engine.version}` : ""}
                  </option>
                ))}
              </NativeSelect.Field>
              <NativeSelect.Indicator />
            </NativeSelect.Root>
            <ImportProfile onStored={(engine) => setPicked(engine.id)} />
          </Flex>
        </Row>
        {open.isError && <ErrorNote error={open.error} />}
        {engines.isError && <ErrorNote error={engines.error} />}
        <ActionButton type="submit" loading={open.isPending} disabled={!vehicle.trim() || engineId === null}>
          Open the job
        </ActionButton>
      </Flex>
    </form>
  );
}

function Row({ label, help, required, children }: { label: string; help?: string; required?: boolean; children: ReactNode }) {
  return (
    <Field.Root required={required ?? false}>
      <Field.Label>
        {label} {required && <Field.RequiredIndicator color="late" />}
      </Field.Label>
      {children}
      {help && <Field.HelperText color="mute">{help}</Field.HelperText>}
    </Field.Root>
  );
}
