import type { RefObject } from 'react';

/** The browser's own way to choose files, opened by a button of ours through `at`. The same file can be chosen again. */
export function FileInput({
  at,
  label,
  accept,
  multiple = false,
  folder = false,
  onFiles,
}: {
  at: RefObject<HTMLInputElement | null>;
  label: string;
  accept?: string;
  multiple?: boolean;
  /** A whole folder is chosen, with all that lies in it. */
  folder?: boolean;
  onFiles(files: readonly File[]): void;
}) {
  return (
    <input
      ref={at}
      type="file"
      accept={accept}
      multiple={multiple}
      {...(folder && { webkitdirectory: '' })}
      className="sr-only"
      aria-label={label}
      tabIndex={-1}
      onChange={(e) => {
        onFiles([...(e.target.files ?? [])]);
        e.target.value = '';
      }}
    />
  );
}
