drop table gym_movements;
