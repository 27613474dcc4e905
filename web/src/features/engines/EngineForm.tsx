import { Box } from "@chakra-ui/react";

import { CamFields } from "./CamFields";
import { CrankFields } from "./CrankFields";
import { listAt, numbersAt, numbersOf, textAt } from "./draft";
import { DriveFields } from "./DriveFields";
import { FailureFields } from "./FailureFields";
import { NumberAt, NumbersAt, PickAt, TextAt, TypedField, useForm, YesNoAt } from "./fields";
import { Section } from "./Section";
import { WheelFields } from "./WheelFields";

/** Every field of a profile, in the order in which a technician would know them. */
export function EngineForm() {
  return (
    <Box>
      <Section title="Engine">
        <TextAt label="Name" path={["name"]} width={300} hint="Make, size, cylinders" />
        <NumberAt label="Cylinders" path={["cylinders"]} />
        <NumbersAt label="Firing order" path={["firing_order"]} width={170} hint="1 3 4 2" />
        <PickAt
          label="Layout"
          path={["layout"]}
          unknown="not known"
          options={[
            ["inline", "in line"],
            ["vee", "vee"],
            ["flat", "flat"],
          ]}
        />
        <Banks />
        <NumbersAt label="Firing angles" path={["firing_angles_deg"]} width={170} after="°" hint="blank: even" />
        <NumberAt label="Displacement" path={["displacement_l"]} after="l" />
        <YesNoAt label="Valves can meet pistons" path={["interference"]} />
        <NumberAt label="They meet: exhaust late by" path={["valve_clearance_deg", "exhaust_late"]} width={60} after="°" hint="10" />
        <NumberAt label="intake early by" path={["valve_clearance_deg", "intake_early"]} width={60} after="°" hint="10" />
      </Section>
      <Section title="Crank wheel">
        <CrankFields />
      </Section>
      <CamFields />
      <WheelFields />
      <Section title="Timing drive">
        <DriveFields />
      </Section>
      <Section title="Ignition and cranking">
        <PickAt
          label="Ignition"
          path={["ignition", "type"]}
          unknown="not known"
          options={[
            ["coil_on_plug", "coil on plug"],
            ["wasted_spark", "wasted spark"],
            ["distributor", "distributor"],
            ["none", "none"],
          ]}
        />
        <NumbersAt label="Spark while cranking, from and to" path={["ignition", "cranking_spark_deg"]} width={110} after="° after TDC" hint="-10 2" />
        <NumbersAt label="Cranking pressure, from and to" path={["cranking_pressure_bar"]} width={110} after="bar" hint="9.5 13" />
      </Section>
      <Section title="Valve timing" about="Crank degrees after the cylinder's own firing TDC, cams parked">
        <NumberAt label="At a lift of" path={["valve_timing", "lift_mm"]} after="mm" hint="0.5" />
        <NumberAt label="Exhaust opens" path={["valve_timing", "exhaust_open_deg"]} after="°" />
        <NumberAt label="Exhaust closes" path={["valve_timing", "exhaust_close_deg"]} after="°" />
        <NumberAt label="Intake opens" path={["valve_timing", "intake_open_deg"]} after="°" />
        <NumberAt label="Intake closes" path={["valve_timing", "intake_close_deg"]} after="°" />
      </Section>
      <FailureFields />
      <LearntFields />
      <Section title="Geometry">
        <NumberAt label="Bore" path={["geometry", "bore_mm"]} after="mm" />
        <NumberAt label="Stroke" path={["geometry", "stroke_mm"]} after="mm" />
        <NumberAt label="Rod" path={["geometry", "rod_mm"]} after="mm" />
        <NumberAt label="Compression" path={["geometry", "compression_ratio"]} after=": 1" />
        <NumberAt label="Crank offset" path={["geometry", "crank_offset_mm"]} after="mm" />
      </Section>
    </Box>
  );
}

/** Where learnt edges come from, and what makes them a reference. */
function LearntFields() {
  const { draft } = useForm();
  const cams = listAt(draft, ["learnt", "cams"]);
  if (!cams.length) return null;
  return (
    <Section title="Learnt from one car" about={`Edges of ${cams.map(String).join(", ")}, from capture ${textAt(draft, ["learnt", "capture"])}; they move with the index`}>
      <TextAt label="How that car was known to be good" path={["learnt", "known_good"]} width={300} hint="marks seen true, runs well, ..." />
    </Section>
  );
}

/** Cylinders of each bank; blank where nobody said. */
function Banks() {
  const { draft, put } = useForm();
  const known = listAt(draft, ["banks"]).length;
  if (textAt(draft, ["layout"]) === "inline" && known === 0) return null;
  return [1, 2].slice(0, known + 1).map((bank, i) => (
    <TypedField
      key={bank}
      label={`Cylinders of bank ${String(bank)}`}
      path={["banks", i, "cylinders"]}
      width={110}
      numeric
      shown={numbersAt(draft, ["banks", i, "cylinders"]).join("  ")}
      commit={(text) => {
        const cylinders = numbersOf(text);
        if (!cylinders) return false;
        put(["banks", i], cylinders.length ? { bank, cylinders } : undefined);
        return true;
      }}
    />
  ));
}
