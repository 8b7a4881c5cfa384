delete from keys where kind = 'api';
alter table keys drop constraint keys_kind_check, drop column scopes;
alter table keys add constraint keys_kind_check check (kind in ('wall', 'calendar'));
drop table consents;
alter table members drop column limits_on, drop column shown;
