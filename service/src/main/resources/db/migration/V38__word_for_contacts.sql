-- What somebody wrote for the contacts of the sites that a unit concerns; it stands in the next mail.
alter table run_unit add column for_contacts text not null default '';
