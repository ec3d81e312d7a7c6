/** A row as a query of ours gives it; what its columns are stands in the query beside its use. */
// biome-ignore lint/suspicious/noExplicitAny: SQL is not typed, and the functions that read rows are short
export type RawRow = any;
