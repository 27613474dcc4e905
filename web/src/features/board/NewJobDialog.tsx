import { CloseButton, Dialog, Field, Flex, Input, NativeSelect, Portal, Text, Textarea } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useRef, useState } from "react";
import { useNavigate } from "react-router";

import { client, type Schemas, taken } from "../../api/client";
import { enginesQuery } from "../../api/queries";
import { ActionButton, ErrorNote, QuietButton } from "../../ui";

type NewJob = Schemas["NewJob"];

export function NewJobDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog.Root open={open} onOpenChange={(e) => !e.open && onClose()}>
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="panel" color="ink">
            <Dialog.Header>
              <Dialog.Title fontSize="22px">New job</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body pb="6">
              <JobForm />
            </Dialog.Body>
            <Dialog.CloseTrigger asChild>
              <CloseButton size="sm" aria-label="Close" />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}

function JobForm() {
  const engines = useQuery(enginesQuery);
  const queries = useQueryClient();
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
      await queries.invalidateQueries({ queryKey: ["board"] });
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
            <ProfileUpload onStored={setPicked} />
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

/** Stores an engine profile from a file; its faults are said field by field. */
function ProfileUpload({ onStored }: { onStored: (id: number) => void }) {
  const input = useRef<HTMLInputElement>(null);
  const queries = useQueryClient();
  const store = useMutation({
    mutationFn: (file: File) => {
      const form = new FormData();
      form.append("profile", file);
      return taken(
        client.POST("/api/engines", { body: { profile: "" }, bodySerializer: () => form }),
      );
    },
    onSuccess: async (engine) => {
      await queries.invalidateQueries({ queryKey: ["engines"] });
      onStored(engine.id);
    },
  });
  return (
    <Flex direction="column" flex="none" maxW="50%">
      <QuietButton h="40px" onClick={() => input.current?.click()} loading={store.isPending}>
        Add a profile
      </QuietButton>
      <input
        ref={input}
        type="file"
        accept=".json"
        hidden
        aria-label="Engine profile file"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (file) store.mutate(file);
        }}
      />
      {store.isError && (
        <Text role="alert" color="late" fontSize="12.5px" mt="1">
          {store.error.message}
        </Text>
      )}
    </Flex>
  );
}
