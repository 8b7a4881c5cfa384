drop table hour_edits;
drop table bookings;
drop table classes;
