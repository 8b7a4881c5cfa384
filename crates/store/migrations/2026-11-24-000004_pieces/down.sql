drop table piece_edits;
