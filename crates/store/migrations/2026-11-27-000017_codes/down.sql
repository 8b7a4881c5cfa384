delete from one_time_links where kind = 'code';
alter table one_time_links drop constraint one_time_links_kind_check;
alter table one_time_links add constraint one_time_links_kind_check check (kind in ('owner', 'passphrase'));
alter table accounts drop column code_secret, drop column code_step, drop column code_spare;
