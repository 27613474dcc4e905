import { type ReactNode, useRef } from "react";

import { QuietButton } from "./buttons";

type Props = { name: string; accept: string; loading: boolean; testId?: string; onFile: (file: File) => void; children: ReactNode };

/** A button that asks for a file; the same file can be picked again. */
export function FileButton({ name, accept, loading, testId, onFile, children }: Props) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <QuietButton h="40px" loading={loading} onClick={() => input.current?.click()}>
        {children}
      </QuietButton>
      <input
        ref={input}
        type="file"
        accept={accept}
        hidden
        aria-label={name}
        data-testid={testId}
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (file) onFile(file);
        }}
      />
    </>
  );
}
