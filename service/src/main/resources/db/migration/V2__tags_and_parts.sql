-- What an inventory says beyond the box itself: words to select by, feature packages, the tree of parts (JSON).
alter table device add column tags text not null default '[]';
alter table device add column features text not null default '[]';
alter table device add column parts text not null default '[]';
