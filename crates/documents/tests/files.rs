//! Small files of our own, made here, and what is read of them.

use std::fmt::Write as _;
use std::io::{Cursor, Write};

use lantern_documents::{DocumentError, LARGEST_FILE, text_of};
use proptest::prelude::*;
use zip::ZipWriter;
use zip::write::SimpleFileOptions;

fn archive(files: &[(&str, &str)]) -> Vec<u8> {
    let mut zip = ZipWriter::new(Cursor::new(Vec::new()));
    for (name, text) in files {
        zip.start_file(*name, SimpleFileOptions::default()).unwrap();
        zip.write_all(text.as_bytes()).unwrap();
    }
    zip.finish().unwrap().into_inner()
}

fn document(body: &str) -> Vec<u8> {
    let xml = format!(
        r#"<?xml version="1.0"?><w:document xmlns:w="w" xmlns:mc="mc"><w:body>{body}</w:body></w:document>"#
    );
    archive(&[("[Content_Types].xml", "<Types/>"), ("word/document.xml", &xml)])
}

fn open_document(body: &str) -> Vec<u8> {
    let xml = format!(
        r#"<office:document-content xmlns:office="o" xmlns:text="t" xmlns:table="b"><office:body>{body}</office:body></office:document-content>"#
    );
    archive(&[("mimetype", "application/vnd.oasis.opendocument.text"), ("content.xml", &xml)])
}

fn workbook(rows: &str) -> Vec<u8> {
    let sheet = format!(
        r#"<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>{rows}</sheetData></worksheet>"#
    );
    archive(&[
        (
            "[Content_Types].xml",
            r#"<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"/>"#,
        ),
        (
            "_rels/.rels",
            r#"<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r0" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="xl/workbook.xml"/></Relationships>"#,
        ),
        (
            "xl/workbook.xml",
            r#"<workbook xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"><sheets><sheet name="Week" sheetId="1" r:id="r1"/></sheets></workbook>"#,
        ),
        (
            "xl/_rels/workbook.xml.rels",
            r#"<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/worksheet" Target="worksheets/sheet1.xml"/></Relationships>"#,
        ),
        (
            "xl/styles.xml",
            r#"<styleSheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><cellXfs count="2"><xf numFmtId="0"/><xf numFmtId="9"/></cellXfs></styleSheet>"#,
        ),
        ("xl/worksheets/sheet1.xml", &sheet),
    ])
}

/// A page with these lines, each below the one before.
fn page(lines: &[&str]) -> Vec<u8> {
    let mut content = "BT /F1 12 Tf 50 750 Td 16 TL\n".to_owned();
    for line in lines {
        let _ = writeln!(content, "({line}) Tj T*");
    }
    content.push_str("ET");
    let objects = [
        "<</Type/Catalog/Pages 2 0 R>>".to_owned(),
        "<</Type/Pages/Kids[3 0 R]/Count 1>>".to_owned(),
        "<</Type/Page/Parent 2 0 R/MediaBox[0 0 595 842]/Contents 4 0 R/Resources<</Font<</F1 5 0 R>>>>>>"
            .to_owned(),
        format!("<</Length {}>>stream\n{content}\nendstream", content.len()),
        "<</Type/Font/Subtype/Type1/BaseFont/Helvetica/Encoding/WinAnsiEncoding>>".to_owned(),
    ];
    let mut file = "%PDF-1.4\n".to_owned();
    let mut places = Vec::new();
    for (n, object) in objects.iter().enumerate() {
        places.push(file.len());
        let _ = write!(file, "{} 0 obj\n{object}\nendobj\n", n + 1);
    }
    let start = file.len();
    let _ = write!(file, "xref\n0 {}\n0000000000 65535 f \n", objects.len() + 1);
    for place in places {
        let _ = writeln!(file, "{place:010} 00000 n ");
    }
    let _ = write!(file, "trailer<</Size {}/Root 1 0 R>>\nstartxref\n{start}\n%%EOF", objects.len() + 1);
    file.into_bytes()
}

#[test]
fn a_document_gives_its_paragraphs_breaks_and_tables() {
    let body = "<w:p><w:r><w:t>Warm-up</w:t></w:r></w:p>\
        <w:p><w:r><w:t>3 rounds </w:t></w:r><w:r><w:t>&amp; no rush</w:t><w:br/><w:t>10 air squats</w:t></w:r></w:p>\
        <w:p><w:pPr><w:tabs><w:tab w:val=\"left\" w:pos=\"720\"/></w:tabs></w:pPr><w:del><w:r><w:t>40 burpees</w:t></w:r></w:del><w:r><w:t>12 lunges</w:t></w:r></w:p>\
        <w:tbl><w:tr><w:tc><w:p><w:r><w:t>Exercise</w:t></w:r></w:p></w:tc><w:tc><w:p><w:r><w:t>Reps</w:t></w:r></w:p></w:tc></w:tr>\
        <w:tr><w:tc><w:p><w:r><w:t>push-up</w:t></w:r></w:p></w:tc><w:tc><w:p><w:r><w:t>12</w:t></w:r></w:p></w:tc></w:tr></w:tbl>";
    let text = text_of(&document(body)).unwrap();
    assert_eq!(text, "Warm-up\n3 rounds & no rush\n10 air squats\n12 lunges\n\nExercise\tReps\npush-up\t12");
}

#[test]
fn an_open_document_and_an_open_sheet_give_theirs() {
    let body = "<text:h>Strength</text:h><text:p>back squat<text:s/>5x5 @ 75%<text:line-break/>rest 2:00</text:p><text:p>then <text:span>talk</text:span></text:p>";
    assert_eq!(
        text_of(&open_document(body)).unwrap(),
        "Strength\nback squat 5x5 @ 75%\nrest 2:00\nthen talk"
    );
    let sheet = "<table:table><table:table-row><table:table-cell><text:p>Monday</text:p><text:p>row</text:p></table:table-cell>\
        <table:table-cell table:number-columns-repeated=\"16000\"/></table:table-row>\
        <table:table-row><table:table-cell/><table:table-cell><text:p>Tuesday</text:p></table:table-cell></table:table-row></table:table>";
    assert_eq!(text_of(&open_document(sheet)).unwrap(), "Monday\nrow\n\nTuesday");
}

#[test]
fn a_spreadsheet_gives_its_cells_as_it_shows_them() {
    let rows = r#"<row r="1"><c r="A1" t="inlineStr"><is><t>back squat</t></is></c><c r="B1"><v>5</v></c><c r="C1" s="1"><v>0.75</v></c></row>
        <row r="2"><c r="A2" t="inlineStr"><is><t>plank</t></is></c><c r="XFD2"><v>1</v></c></row>
        <row r="1048576"><c r="A1048576"><v>1</v></c></row>"#;
    assert_eq!(text_of(&workbook(rows)).unwrap(), "back squat\t5\t75%\nplank");
}

#[test]
fn a_pdf_gives_its_lines() {
    let text = text_of(&page(&["5 rounds for time", "12 wall balls", "9 pull-ups"])).unwrap();
    let lines: Vec<&str> = text.lines().filter(|line| !line.is_empty()).collect();
    assert_eq!(lines, ["5 rounds for time", "12 wall balls", "9 pull-ups"]);
}

#[test]
fn text_is_read_in_the_encodings_of_other_programs() {
    assert_eq!(text_of("\u{feff}10 burpees".as_bytes()).unwrap(), "10 burpees");
    assert_eq!(text_of(b"\xFF\xFE1\x000\x00").unwrap(), "10");
    assert_eq!(text_of(b"3 \xD7 10").unwrap(), "3 \u{d7} 10");
    assert_eq!(text_of("caf\u{e9} \u{d7}".as_bytes()).unwrap(), "caf\u{e9} \u{d7}");
    // One byte that is broken leaves the letters around it.
    assert_eq!(text_of(b"caf\xC3\xA9 \xFF 10").unwrap(), "caf\u{e9} \u{fffd} 10");
}

#[test]
fn what_gives_no_text_is_refused_in_words() {
    assert_eq!(text_of(&vec![b'x'; LARGEST_FILE + 1]), Err(DocumentError::TooLarge));
    assert_eq!(text_of(b"\x00\x01\x02\xFF"), Err(DocumentError::Unknown));
    assert_eq!(text_of(&archive(&[("a.txt", "hello")])), Err(DocumentError::Unknown));
    assert_eq!(text_of(&page(&[])), Err(DocumentError::NoText("PDF file")));
    assert!(matches!(text_of(b"%PDF-1.4 and nothing"), Err(DocumentError::Broken { kind: "PDF file", .. })));
    assert!(matches!(text_of(b"PK\x03\x04 and nothing"), Err(DocumentError::Broken { .. })));
    assert!(matches!(
        text_of(&document("<w:p><w:r>")),
        Ok(_) | Err(DocumentError::NoText(_) | DocumentError::Broken { .. })
    ));
    // Little that becomes much.
    let much = "0".repeat(9 * LARGEST_FILE);
    let small = archive(&[("word/document.xml", &much)]);
    assert!(small.len() < LARGEST_FILE);
    assert_eq!(text_of(&small), Err(DocumentError::TooLarge));
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(200))]

    /// A file that is cut off or changed gives a text or a message, and never stops the program.
    #[test]
    fn prop_damage_gives_a_text_or_a_message(which in 0..4_usize, at in 0.0..1.0_f64, byte: u8, cut: bool) {
        let files = [
            document("<w:p><w:r><w:t>10 burpees</w:t></w:r></w:p>"),
            open_document("<text:p>10 burpees</text:p>"),
            workbook(r#"<row r="1"><c r="A1"><v>5</v></c></row>"#),
            page(&["10 burpees"]),
        ];
        let mut file = files[which].clone();
        let place = ((file.len() - 1) as f64 * at) as usize;
        if cut { file.truncate(place) } else { file[place] = byte }
        match text_of(&file) {
            Ok(text) => prop_assert!(!text.is_empty()),
            Err(error) => prop_assert!(!error.to_string().is_empty()),
        }
    }
}
