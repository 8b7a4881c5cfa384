alter table maxes drop column kept;
