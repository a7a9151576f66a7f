"""What is kept: accounts, models, revisions, geometry blobs, imported originals and jobs, in MariaDB."""
