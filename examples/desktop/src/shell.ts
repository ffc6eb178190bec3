/** A window that a shell shows. */
export interface ShellWindow {
  /** Resolves when the window has been closed: by its person, who was asked about unsaved work, or by `close`. */
  readonly closed: Promise<void>;
  /** Brings it to the front, where the shell can. */
  focus(): void;
  /** Ends it without asking. */
  close(): void;
}

/** What shows the application’s page in a window of the desktop. A host brings its own by this interface. */
export interface Shell {
  open(address: string, title: string): ShellWindow;
}
