import { Field, Flex, Input, NativeSelect, Textarea } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { type ReactNode, useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";

import { useChanges } from "../../api/changes";
import { client, type Schemas, taken } from "../../api/client";
import { enginesQuery } from "../../api/queries";
import { ActionButton, ErrorNote, Sheet } from "../../ui";
import { ImportProfile } from "../engines";

type NewJob = Schemas["NewJob"];

export function NewJobDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  const typed = useRef(false);
  // Escape, the cross and a press beside it: what was typed is not lost without a word.
  const leave = () => {
    if (typed.current && !window.confirm("What you typed is not saved yet. Leave it?")) return;
    typed.current = false;
    onClose();
  };
  return (
    <Sheet title="New job" open={open} onClose={leave}>
      <JobForm
        onTyped={(any) => {
          typed.current = any;
        }}
      />
    </Sheet>
  );
}

const NEW = "new";

function JobForm({ onTyped }: { onTyped: (any: boolean) => void }) {
  const engines = useQuery(enginesQuery);
  const changes = useChanges();
  const navigate = useNavigate();
  const [vehicle, setVehicle] = useState("");
  const [makeModel, setMakeModel] = useState("");
  const [complaint, setComplaint] = useState("");
  const [codes, setCodes] = useState("");
  const [picked, setPicked] = useState("");
  const [cylinders, setCylinders] = useState("");
  const [order, setOrder] = useState("");
  const open = useMutation({
    mutationFn: (body: NewJob) => taken(client.POST("/api/jobs", { body })),
    onSuccess: async (job) => {
      onTyped(false);
      await changes.jobOpened();
      if (picked === NEW) await changes.engineStored();
      await navigate(`/jobs/${job.id}/captures`);
    },
  });
  useEffect(() => {
    onTyped([vehicle, makeModel, complaint, codes, cylinders, order].some((text) => text.trim() !== ""));
  });
  const count = Number(cylinders);
  const ready = vehicle.trim() !== "" && (picked === NEW ? Number.isInteger(count) && count >= 1 && count <= 16 && order.trim() !== "" : picked !== "");
  const submit = () => {
    if (!ready) return;
    open.mutate({
      vehicle,
      make_model: makeModel,
      complaint,
      codes: codes.split(/[\s,;]+/).filter(Boolean),
      engine_id: picked === NEW ? null : Number(picked),
      new_engine: picked === NEW ? { name: "", cylinders: count, firing_order: order } : null,
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
          <Input autoFocus value={vehicle} onChange={(e) => setVehicle(e.target.value)} maxLength={200} borderColor="mute" />
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
              <NativeSelect.Field value={picked} onChange={(e) => setPicked(e.target.value)} borderColor="mute">
                <option value="">Choose the engine</option>
                <option value={NEW}>Not in the list: cylinders and firing order</option>
                {engines.data?.map((engine) => (
                  <option key={engine.id} value={String(engine.id)}>
                    {engine.name}
                    {engine.version > 1 ? `, version ${String(engine.version)}` : ""}
                  </option>
                ))}
              </NativeSelect.Field>
              <NativeSelect.Indicator />
            </NativeSelect.Root>
            <ImportProfile onStored={(engine) => setPicked(String(engine.id))} />
          </Flex>
        </Row>
        {picked === NEW && (
          <Flex gap="3" align="flex-start">
            <Row label="Cylinders" required>
              <Input inputMode="numeric" value={cylinders} onChange={(e) => setCylinders(e.target.value)} maxLength={2} borderColor="mute" w="90px" />
            </Row>
            <Row label="Firing order" required help="1-3-4-2, 1 3 4 2 and 1342 are all understood; everything else is learnt from the signals">
              <Input value={order} onChange={(e) => setOrder(e.target.value)} maxLength={120} borderColor="mute" />
            </Row>
          </Flex>
        )}
        {open.isError && <ErrorNote error={open.error} />}
        {engines.isError && <ErrorNote error={engines.error} />}
        <ActionButton type="submit" loading={open.isPending} disabled={!ready}>
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
