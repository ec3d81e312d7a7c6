/** A draft in which nothing was written, to which nothing was added: in no list, and begun anew by the next who begins one. `a` is the assignment. */
export const UNTOUCHED = `a.opens_at IS NULL AND a.title = '' AND a.revision = 1 AND a.rubric_version_id IS NULL AND a.scoring IS NULL
  AND NOT EXISTS (SELECT 1 FROM material um WHERE um.assignment_id = a.id)`;
