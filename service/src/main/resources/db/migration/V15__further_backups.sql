-- A family may give more than its two configurations.
alter table backup drop constraint backup_kind_check;
alter table backup add constraint backup_kind_check check (kind ~ '^[a-z][a-z0-9-]*$');
