-- Names that a site had, a blank between: windows and plans that name it so still mean it.
alter table site add column former_names text not null default '';
