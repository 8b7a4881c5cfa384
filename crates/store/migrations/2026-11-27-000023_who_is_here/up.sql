-- Who of those booked is here: nothing said yet, not here, or here without having been booked.
alter table bookings add column came text not null default 'booked' check (came in ('booked', 'away', 'joined'));
