//! What is read from and written to a terminal, or another program.

use std::io::{ErrorKind, Read, Write};
use std::path::Path;

/// Writes to standard output. A reader that has had enough is no failure.
pub fn print(text: &str) -> Result<(), String> {
    let mut out = std::io::stdout().lock();
    match out.write_all(text.as_bytes()).and_then(|()| out.flush()) {
        Err(error) if error.kind() != ErrorKind::BrokenPipe => Err(format!("standard output: {error}")),
        _ => Ok(()),
    }
}

/// Reads all there is, as far as that is not more than can be used.
pub fn read_all(from: impl Read, what: &str, longest: u64) -> Result<Vec<u8>, String> {
    let mut read = Vec::new();
    from.take(longest + 1)
        .read_to_end(&mut read)
        .map_err(|error| format!("{what} cannot be read: {error}"))?;
    if read.len() as u64 > longest {
        return Err(format!("{what} holds more than {} MB: that is more than is read", longest >> 20));
    }
    Ok(read)
}

/// The same of a file, or of standard input where it is called -.
pub fn read_file(path: &Path, longest: u64) -> Result<Vec<u8>, String> {
    if path == Path::new("-") {
        return read_all(std::io::stdin(), "standard input", longest);
    }
    let name = path.display().to_string();
    let file = std::fs::File::open(path).map_err(|error| format!("{name}: {error}"))?;
    read_all(file, &name, longest)
}
