/** Where what runs write and need lies. */
export interface RunPlaces {
  readonly outputFolder: string;
  readonly proofFolder: string;
  readonly libraryFolder: string;
  /** Where files that are dropped on the page go. */
  readonly uploadFolder: string;
}
