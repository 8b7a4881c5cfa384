-- What a coach has said of loads being counted from a set that a class has shown; nothing where nobody has been asked. What counts until now goes on
-- counting.
alter table maxes add column kept boolean;
update maxes set kept = true where source = 'class result';
