import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { PRACTISING } from "../../api/base";
import type { Schemas } from "../../api/client";
import { Choice, inBar, inUnit, PlainInput, QuietButton, Select, usePressureUnit } from "../../ui";
import { AskTheCar } from "../practice";

type Look = Schemas["Look"];
type Noted = Schemas["NotedLook"];

type Props = {
  jobId: number;
  question: Schemas["QuestionOut"];
  here: boolean;
  noted: Noted[];
  cylinders: number[];
  cylinder: number | null;
  cams: Schemas["CamOut"][];
  onCylinder: (cylinder: number) => void;
  onHere: () => void;
  onNote: (look: Look) => void;
  onForget: (look: Noted) => void;
};

/** One thing to look at: its answers or a reading per cylinder, how it is done, and what was noted with its weight. */
export function QuestionRow(props: Props) {
  const { question, here, noted } = props;
  return (
    <Box
      role="group"
      aria-label={question.title}
      data-question={question.id}
      data-testid="question"
      aria-current={here}
      borderLeftWidth="4px"
      borderColor={here ? "petrol" : "transparent"}
      bg={here ? "soft" : "transparent"}
      borderBottomWidth="1px"
      borderBottomColor="line"
      px="3"
      py="1.5"
      onClick={props.onHere}
    >
      <Flex gap="3" align="center" wrap="wrap">
        <Box as="button" w="190px" minH="24px" textAlign="start" flex="none" fontWeight="600" aria-expanded={here} onClick={props.onHere}>
          {question.title}
        </Box>
        {PRACTISING ? <AskTheCar {...props} /> : question.unit === null ? <Answers {...props} /> : <Readings {...props} />}
      </Flex>
      {here && (
        <Text fontSize="13px" color="mute" mt="1">
          {question.how}
          {question.caution && (
            <Box as="span" color="ink" fontWeight="600">
              {" "}
              {question.caution}
            </Box>
          )}
        </Text>
      )}
      {noted.map((look) => (
        <NotedLine key={look.id} look={look} {...props} />
      ))}
    </Box>
  );
}

function Answers({ question, noted, cylinders, cylinder, cams, onCylinder, onNote }: Props) {
  const [place, setPlace] = useState<MarkPlace>({ cam: "", crankAt: "mark", amount: "" });
  const cam = place.cam || null;
  const held = noted.find((look) => look.cylinder === cylinder && look.cam === cam);
  const amount = Number(place.amount.replace(",", "."));
  return (
    <Flex gap="4" wrap="wrap" align="center">
      {question.per_cylinder && (
        <Choice
          label="Cylinder"
          options={cylinders.map((c) => ({ value: String(c), text: String(c) }))}
          value={String(cylinder)}
          onPick={(c) => onCylinder(Number(c))}
        />
      )}
      {question.per_cam && <MarkFields question={question} cams={cams} place={place} onPlace={setPlace} />}
      <Choice
        label=""
        options={question.answers.map((answer) => ({ value: answer.id, text: answer.title }))}
        value={held?.answer_id ?? ""}
        onPick={(answer) =>
          onNote({
            question: question.id,
            answer,
            cylinder,
            cam,
            crank_at: place.crankAt,
            amount_deg: place.amount.trim() !== "" && Number.isFinite(amount) ? amount : null,
            note: held?.note ?? "",
          })
        }
      />
    </Flex>
  );
}

type MarkPlace = { cam: string; crankAt: "mark" | "tdc"; amount: string };
type MarkProps = Pick<Props, "question" | "cams"> & { place: MarkPlace; onPlace: (place: MarkPlace) => void };

/** Which cam was looked at; for timing marks also where the crank stood, and how far the mark is out. */
function MarkFields({ question, cams, place, onPlace }: MarkProps) {
  return (
    <>
      <Select
        label="Cam"
        hideLabel
        value={place.cam}
        options={[{ value: "", text: "All cams" }, ...cams.map((cam) => ({ value: cam.id, text: cam.name }))]}
        onPick={(cam) => onPlace({ ...place, cam })}
      />
      {question.id === "marks" && (
        <>
          <Choice
            label="Crank"
            options={[
              { value: "mark", text: "On its mark" },
              { value: "tdc", text: "TDC proved" },
            ]}
            value={place.crankAt}
            onPick={(crankAt) => onPlace({ ...place, crankAt })}
          />
          <PlainInput
            aria-label="How far out, crank degrees, late positive"
            placeholder="° out"
            inputMode="decimal"
            width={64}
            wrong={place.amount.trim() !== "" && !Number.isFinite(Number(place.amount.replace(",", ".")))}
            value={place.amount}
            onChange={(event) => onPlace({ ...place, amount: event.target.value })}
          />
        </>
      )}
    </>
  );
}

/** A reading in bar is typed and shown in the unit that was picked. */
function Readings({ question, noted, cylinders, onNote }: Props) {
  const [unit] = usePressureUnit();
  const pressure = question.unit === "bar";
  const shownOf = (value: number | null) => (value === null || !pressure || unit === "bar" ? value : Number(inUnit(value, unit).toPrecision(4)));
  const storedOf = (value: number) => (pressure ? inBar(value, unit) : value);
  const places = question.per_cylinder ? cylinders : [null];
  return (
    <Flex gap="3" wrap="wrap" align="center">
      {places.map((cylinder) => (
        <Reading
          key={`${String(cylinder)} ${pressure ? unit : ""} ${String(noted.find((look) => look.cylinder === cylinder)?.value ?? "")}`}
          label={cylinder === null ? question.title : `${question.title}, cylinder ${String(cylinder)}`}
          name={cylinder === null ? "" : String(cylinder)}
          held={shownOf(noted.find((look) => look.cylinder === cylinder)?.value ?? null)}
          onRead={(value) => onNote({ question: question.id, cylinder, value: storedOf(value), crank_at: "mark", note: "" })}
        />
      ))}
      <Text color="mute" fontSize="13px">
        {pressure ? unit : question.unit}
      </Text>
    </Flex>
  );
}

type ReadingProps = { label: string; name: string; held: number | null; onRead: (value: number) => void };

/** A reading of one cylinder; it is noted on leaving the field or with Enter. */
function Reading({ label, name, held, onRead }: ReadingProps) {
  const [text, setText] = useState(held === null ? "" : String(held));
  const value = text.trim() === "" ? NaN : Number(text.trim().replace(",", "."));
  const keep = () => {
    if (Number.isFinite(value) && value !== held) onRead(value);
  };
  return (
    <Flex asChild align="center" gap="1" fontSize="13px">
      <label>
        <Text fontWeight="650">{name}</Text>
        <PlainInput
          aria-label={label}
          inputMode="decimal"
          width={56}
          wrong={text.trim() !== "" && !Number.isFinite(value)}
          value={text}
          onChange={(event) => setText(event.target.value)}
          onBlur={keep}
          onKeyDown={(event) => {
            if (event.key === "Enter") keep();
            if (event.key === "Escape") event.currentTarget.blur();
          }}
        />
      </label>
    </Flex>
  );
}

/** What was noted, its weight, a remark to it, and the way to take it back. */
function NotedLine({ look, question, here, cams, onNote, onForget }: Props & { look: Noted }) {
  const [remark, setRemark] = useState(look.note);
  const keep = () => {
    if (remark !== look.note)
      onNote({
        question: question.id,
        answer: look.answer_id,
        cylinder: look.cylinder,
        cam: look.cam,
        amount_deg: look.amount_deg,
        crank_at: look.crank_at,
        value: look.value,
        note: remark,
      });
  };
  const where = placeWords(look, cams);
  return (
    <Flex gap="3" align="center" fontSize="13px" mt="0.5" wrap="wrap" data-testid="noted">
      <Text color="ink">
        {where}
        {look.weight}
      </Text>
      {here ? (
        <>
          <PlainInput
            aria-label={`Remark to ${look.title}`}
            placeholder="Remark"
            width={220}
            wrong={false}
            maxLength={500}
            value={remark}
            onChange={(event) => setRemark(event.target.value)}
            onBlur={keep}
            onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
          />
          <QuietButton onClick={() => onForget(look)} aria-label={`Take out ${look.title}`}>
            Take out
          </QuietButton>
        </>
      ) : (
        look.note && <Text color="mute">{look.note}</Text>
      )}
    </Flex>
  );
}

/** Where it was looked at and what was found there, for what has a place. */
function placeWords(look: Noted, cams: Schemas["CamOut"][]): string {
  const answer = look.answer.toLowerCase();
  if (look.cylinder !== null) return `Cylinder ${String(look.cylinder)}: ${answer}. `;
  const cam = cams.find((one) => one.id === look.cam)?.name;
  const size = look.amount_deg === null ? "" : ` by ${String(Math.abs(look.amount_deg))}° ${look.amount_deg > 0 ? "late" : "early"}`;
  const proved = look.crank_at === "tdc" ? ", a piston proved at TDC" : "";
  return cam || size || proved ? `${cam ?? "All cams"}: ${answer}${size}${proved}. ` : "";
}
