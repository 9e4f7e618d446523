-- A new revision is told to everybody who looks at its job: a draft that is open does not have its changes.
create trigger revisions_tell after insert on loom_revisions for each row execute function tell_draft_job();
