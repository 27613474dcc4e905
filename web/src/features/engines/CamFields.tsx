import { Box } from "@chakra-ui/react";

import { QuietButton, Select } from "../../ui";
import { camEdges, camName, type EdgeKind, nextCam, withCamNamed, withoutCam } from "./cams";
import { listAt, numbersOf, textAt } from "./draft";
import { NumberAt, PickAt, TypedField, useForm } from "./fields";
import { Section } from "./Section";
import { SENSORS, SHAFTS } from "./words";

/** All cams, each with its edges over one cycle. */
export function CamFields() {
  const { draft, put } = useForm();
  const cams = listAt(draft, ["cams"]);
  const add = () => put(["cams", cams.length], nextCam(cams.map((_, i) => camName(draft, i))));
  return (
    <>
      {cams.map((_, i) => (
        <CamSection key={i} i={i} />
      ))}
      <Box borderTopWidth="1px" borderColor="line" py="3">
        <QuietButton onClick={add}>Add a cam</QuietButton>
      </Box>
    </>
  );
}

function CamSection({ i }: { i: number }) {
  const { draft, set } = useForm();
  const id = camName(draft, i);
  return (
    <Section
      title={`Cam ${id}`}
      action={
        <QuietButton h="26px" aria-label={`Take out cam ${id}`} onClick={() => set(withoutCam(draft, i))}>
          Take out
        </QuietButton>
      }
    >
      <TypedField
        label="Name"
        path={["cams", i, "id"]}
        width={70}
        shown={id}
        commit={(text) => {
          const free = text !== "" && !listAt(draft, ["cams"]).some((_, k) => k !== i && camName(draft, k) === text);
          if (free) set(withCamNamed(draft, i, text));
          return free;
        }}
      />
      <NumberAt label="Bank" path={["cams", i, "bank"]} width={50} hint="1" />
      <PickAt label="Shaft" path={["cams", i, "shaft"]} options={SHAFTS} />
      <PickAt label="Sensor" path={["cams", i, "sensor"]} options={SENSORS} />
      <NumberAt label="Tolerance" path={["cams", i, "tolerance_deg"]} width={60} after="°" hint="5" />
      <EdgeFields i={i} />
      <NumberAt label="give or take" path={["cams", i, "edges_u95_deg"]} width={60} after="°" hint="1.0" />
      <PhaserFields i={i} />
    </Section>
  );
}

/** Edges as a row of angles, and which kind comes first; they alternate, but for an inductive sensor's crossings. */
function EdgeFields({ i }: { i: number }) {
  const { draft, put } = useForm();
  const edges = listAt(draft, ["cams", i, "edges"]);
  const kinds = edges.map((_, k) => textAt(draft, ["cams", i, "edges", k, "kind"]));
  const first: EdgeKind = kinds[0] === "falling" ? "falling" : "rising";
  const inductive = textAt(draft, ["cams", i, "sensor"]) === "vr";
  const write = (angles: number[], from: EdgeKind) => {
    put(["cams", i, "edges"], angles.length ? camEdges(angles, from, inductive, kinds) : undefined);
  };
  const angles = edges.map((_, k) => Number(textAt(draft, ["cams", i, "edges", k, "deg"])));
  return (
    <>
      <TypedField
        label="Edges over 720°"
        path={["cams", i, "edges"]}
        width={270}
        numeric
        hint="not known"
        after="°"
        shown={angles.join("  ")}
        commit={(text) => {
          const found = numbersOf(text);
          if (!found) return false;
          write(found, first);
          return true;
        }}
      />
      {edges.length > 0 && (
        <Select
          label={inductive ? "Crossings" : "The first is"}
          value={first}
          options={[
            { value: "rising", text: "rising" },
            { value: "falling", text: "falling" },
          ]}
          onPick={(kind) => write(angles, kind as EdgeKind)}
        />
      )}
    </>
  );
}

function PhaserFields({ i }: { i: number }) {
  const { draft, put } = useForm();
  const park = textAt(draft, ["cams", i, "phaser", "park"]);
  return (
    <>
      <Select
        label="Phaser"
        value={park}
        options={[
          { value: "", text: "none, fixed" },
          { value: "retarded", text: "parks late" },
          { value: "advanced", text: "parks early" },
          { value: "mid", text: "parks in the middle" },
        ]}
        onPick={(value) => {
          if (value === "") put(["cams", i, "phaser"], undefined);
          else if (park) put(["cams", i, "phaser", "park"], value);
          else put(["cams", i, "phaser"], { park: value, range_deg: 50 });
        }}
      />
      {park && <NumberAt label="Range" path={["cams", i, "phaser", "range_deg"]} width={60} after="°" />}
    </>
  );
}
