drop function lantern_who(bytea, int, int, int);
drop function lantern_known(bigint);
