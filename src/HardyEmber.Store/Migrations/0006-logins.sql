-- Logins, where the server asks for a token. Only digests are kept: this table lets nobody in.
CREATE TABLE logins (
    id      TEXT PRIMARY KEY,     -- what a list names it by
    pass    TEXT NOT NULL UNIQUE, -- digest of the cookie
    token   TEXT NOT NULL,        -- digest of the token that was given: another token ends the login
    created TEXT NOT NULL,
    ends    TEXT NOT NULL,
    address TEXT NOT NULL,
    browser TEXT NOT NULL
) STRICT, WITHOUT ROWID;
