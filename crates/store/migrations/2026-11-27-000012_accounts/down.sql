drop table health_views;
drop table keys;
drop table invitations;
drop table memberships;
drop table throttles;
drop table one_time_links;
drop table login_sessions;
drop table accounts;
