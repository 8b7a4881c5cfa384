alter table session_texts drop column passed_over;
alter table session_texts drop column while_typing;
