<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

/** Small text documents, put together as office programs do. */
final class Office
{
    public static function docx(): string
    {
        $w = 'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"'
            .' xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"';
        $run = static fn (string $text): string => '<w:r><w:rPr><w:i/></w:rPr><w:t xml:space="preserve">'.$text.'</w:t></w:r>';
        $link = '<Relationship Id="%s" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/hyperlink" Target="%s"'
            .' TargetMode="External"/>';
        $relations = static fn (string $links): string =>
            '<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">'
            .$links.'</Relationships>';

        return self::zip([
            '[Content_Types].xml' => '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"/>',
            'word/document.xml' => "<?xml version=\"1.0\"?><w:document {$w}><w:body><w:p>".$run('The seal leaked.')
                .'<w:r><w:footnoteReference w:id="5"/></w:r>'.$run(' See ').'<w:hyperlink r:id="rId1">'.$run('the report').'</w:hyperlink>'
                .$run(' and http://b').$run('.test/x?y&amp;z, too.')
                .'<w:r><w:endnoteReference w:id="2"/></w:r></w:p></w:body></w:document>',
            'word/footnotes.xml' => "<w:footnotes {$w}><w:footnote w:id=\"0\"><w:p/></w:footnote><w:footnote w:id=\"5\"><w:p>"
                .$run('Board, http://c.test/ (accessed 3 November 2024). ')
                .'<w:r><w:fldChar w:fldCharType="begin"/></w:r><w:r><w:instrText xml:space="preserve"> HYPERLINK "http://d.test/"'
                    .' </w:instrText></w:r><w:r><w:fldChar w:fldCharType="separate"/></w:r>'
                .$run('a field').'<w:r><w:fldChar w:fldCharType="end"/></w:r></w:p></w:footnote></w:footnotes>',
            'word/endnotes.xml' => "<w:endnotes {$w}><w:endnote w:id=\"2\"><w:p><w:hyperlink r:id=\"rId1\">".$run('http://e.test/')
                .'</w:hyperlink></w:p></w:endnote></w:endnotes>',
            'word/_rels/document.xml.rels' => $relations(\sprintf($link, 'rId1', 'http://lantern.test/a')),
            'word/_rels/endnotes.xml.rels' => $relations(\sprintf($link, 'rId1', 'http://e.test/')),
            'extra/picture.bin' => random_bytes(2_000),
        ]);
    }

    public static function odt(): string
    {
        $spaces = 'xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0"'
            .' xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0" xmlns:xlink="http://www.w3.org/1999/xlink"';
        $note = static fn (string $sign, string $text): string => '<text:note text:note-class="footnote"><text:note-citation>'.$sign
            .'</text:note-citation><text:note-body><text:p>'.$text.'</text:p></text:note-body></text:note>';

        return self::zip([
            'mimetype' => 'application/vnd.oasis.opendocument.text',
            'content.xml' => "<?xml version=\"1.0\"?><office:document-content {$spaces}><office:body><office:text><text:p>The seal leaked."
                .$note('1', 'Board, http://c.test/<text:s/>(accessed 3 November 2024).')
                .' See <text:a xlink:type="simple" xlink:href="http://lantern.test/a"><text:span>the report</text:span></text:a> and'
                    .' http://b<text:span>.test/x?y&amp;z</text:span>, too.'
                .$note('i', '<text:a xlink:href="http://e.test/">http://e.test/</text:a>')
                .'</text:p></office:text></office:body></office:document-content>',
            'extra/picture.bin' => random_bytes(2_000),
        ]);
    }

    /** @param array<string, string> $parts */
    public static function zip(array $parts): string
    {
        $path = (string) tempnam(sys_get_temp_dir(), 'ypomna-zip-');
        $zip = new \ZipArchive();
        $zip->open($path, \ZipArchive::CREATE | \ZipArchive::OVERWRITE);
        foreach ($parts as $name => $bytes) {
            $zip->addFromString($name, $bytes);
        }
        $zip->close();
        $bytes = (string) file_get_contents($path);
        unlink($path);

        return $bytes;
    }

    /**
     * @return array<string, string>
     */
    public static function parts(string $path): array
    {
        $zip = new \ZipArchive();
        $zip->open($path);
        $parts = [];
        for ($n = 0; $n < $zip->numFiles; ++$n) {
            $parts[(string) $zip->getNameIndex($n)] = (string) $zip->getFromIndex($n);
        }
        $zip->close();

        return $parts;
    }
}
