alter table session_texts drop column saved_by;
