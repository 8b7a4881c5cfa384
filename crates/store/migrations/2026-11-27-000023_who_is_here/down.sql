alter table bookings drop column came;
