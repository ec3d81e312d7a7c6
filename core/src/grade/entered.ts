/** What is entered: typed over, or else as computed. */
export const gradeOf = (typed: number | null, computed: number | null): number | null => typed ?? computed;
