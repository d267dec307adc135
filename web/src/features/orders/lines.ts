/** A cell of several texts as lines; what is still being typed keeps its blanks and its empty last line. */
export const linesOf = (cell: string): string => cell.replace(/; ?/g, "\n");
export const cellOf = (lines: string): string => lines.replace(/;/g, ",").replace(/\n/g, "; ");
