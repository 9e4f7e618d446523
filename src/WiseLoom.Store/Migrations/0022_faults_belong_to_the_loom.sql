-- Faults and failures of runs that were set aside stand against release of the run that took their place, and less than the shop asks for is a
-- lead's decision. Summaries of runs that no pack tells of are worked out anew at the next start; a signed pack holds until something happens.
update runs set summary = null where not set_aside and summary ->> 'pack' is null;
