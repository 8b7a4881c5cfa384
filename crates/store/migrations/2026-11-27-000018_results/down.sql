drop index pieces_that_say_the_same;
drop table results;
