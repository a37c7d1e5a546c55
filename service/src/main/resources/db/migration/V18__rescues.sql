-- Steps that a person's word put between the planned ones, counted by word, and what a rescue brings into a device's memory.
alter table run_step add column detour integer not null default 0;
alter table run_step add column loads text;
