alter table session_texts drop column corrections;
alter table sessions drop column corrections;
