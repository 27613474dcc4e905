import { at, textAt } from "./draft";
import { NumberAt, NumbersAt, PickAt, TypedField, useForm } from "./fields";
import { EDGES, SENSORS } from "./words";
import { Select } from "../../ui";

/** The wheel by its slots, by name ("60-2"), or tooth by tooth. */
export function CrankFields() {
  const { draft, put } = useForm();
  const wheel = at(draft, ["crank", "wheel"]);
  const kind = wheel === undefined ? "" : at(wheel, ["teeth_deg"]) === undefined ? "slots" : "teeth";
  const pick = (chosen: string) => {
    if (chosen === "slots") put(["crank", "wheel"], { slots: 60, missing: [59, 60] });
    else put(["crank", "wheel"], chosen === "teeth" ? { teeth_deg: [0, 180] } : undefined);
  };
  return (
    <>
      <PickAt label="Sensor" path={["crank", "sensor"]} options={SENSORS} />
      <PickAt label="Accurate edge" path={["crank", "timing_edge"]} unknown="not known" options={EDGES} />
      <Select
        label="Wheel"
        value={kind}
        options={[
          { value: "", text: "not known" },
          { value: "slots", text: "equal slots" },
          { value: "teeth", text: "tooth by tooth" },
        ]}
        onPick={pick}
      />
      {kind === "slots" && <SlotFields />}
      {kind === "teeth" && <NumbersAt label="Teeth after the index tooth" path={["crank", "wheel", "teeth_deg"]} width={330} after="°" />}
      <NumberAt label="Tooth 1 passes at" path={["crank", "index_deg"]} after="° after TDC 1" hint="not known" />
      <NumberAt label="give or take" path={["crank", "index_u95_deg"]} width={60} after="°" hint="1.0" />
      <NumberAt label="Tooth width" path={["crank", "tooth_deg"]} width={60} after="°" />
    </>
  );
}

/** Slots and which are missing; a name like 60-2 fills both, the gap before slot 1. */
function SlotFields() {
  const { draft, put } = useForm();
  return (
    <>
      <TypedField
        label="Slots"
        path={["crank", "wheel", "slots"]}
        width={84}
        hint="60-2"
        shown={textAt(draft, ["crank", "wheel", "slots"])}
        commit={(text) => {
          const named = /^(\d{1,3})\s*[-–]\s*(\d{1,2})$/.exec(text);
          const slots = Number(named?.[1] ?? text);
          if (!Number.isInteger(slots) || slots < 1) return false;
          const gone = Number(named?.[2] ?? NaN);
          if (gone < slots) put(["crank", "wheel"], { slots, missing: Array.from({ length: gone }, (_, i) => slots - gone + 1 + i) });
          else put(["crank", "wheel", "slots"], slots);
          return true;
        }}
      />
      <NumbersAt label="Missing slots" path={["crank", "wheel", "missing"]} width={120} hint="none" />
    </>
  );
}
