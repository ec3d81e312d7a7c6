/** Which page of which document a page says it is. */
export interface PageSign {
  readonly document: string;
  readonly page: number;
}
