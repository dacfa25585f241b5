<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

/** Documents that cost a reader more than they should if it goes over them again and again: one piece, repeated. */
final class HostileDocuments
{
    /** Ends that make a search for an end go all the way. */
    public const ENDS = ['', '>', '">', '-->', "'>", ')', '</style>', '</script>', '<', '*/'];
    /** @var array<string, array{string, string, string}> what stands before, what is repeated, what stands behind */
    private const MARKUP = [
        'comments' => ['', '<!--', ''],
        'comments2' => ['', '<!-->', ''],
        'comments3' => ['', '<!-- --', ''],
        'bang' => ['', '<!', ''],
        'cdata' => ['', '<![CDATA[', ''],
        'pi' => ['', '<?', ''],
        'lt' => ['', '<', ''],
        'a' => ['', '<a ', ''],
        'style' => ['', '<style>', ''],
        'style2' => ['', '<style>@import "a";</style>', ''],
        'script' => ['', '<script>', ''],
        'script2' => ['', '<script></script>', ''],
        'noscript' => ['', '<noscript>', ''],
        'title' => ['', '<title ', ''],
        'template' => ['', '<template ', ''],
        'textarea' => ['', '<textarea', ''],
        'href' => ['', '<a href="', ''],
        'quote' => ['<a ', '"', ''],
        'attrs' => ['<img ', 'a ', '>'],
        'attrs2' => ['<img ', 'a=b ', '>'],
        'attrs3' => ['<img ', 'src=b ', '>'],
        'imgs' => ['', '<img src=a>', ''],
        'srcset' => ['<img srcset="', 'a 1x,', '">'],
        'srcset2' => ['<img srcset="', ',', '">'],
        'srcset3' => ['<img srcset="', '(', '">'],
        'inline' => ['<p style="', 'background:url(a);', '">'],
        'inline2' => ['', '<p style="background:url(a)">', ''],
        'p' => ['', '<p>', ''],
        'div' => ['', '<div>', ''],
        'b' => ['', '<b>', ''],
        'table' => ['', '<table>', ''],
        'tr' => ['<table>', '<tr><td>a', ''],
        'font' => ['', '<font><p>', ''],
        'amp' => ['', '&', ''],
        'amps' => ['', '&amp;', ''],
        'num' => ['', '&#x1;', ''],
        'ent' => ['', '&notit', ''],
        'sources' => ['<picture>', '<source srcset=a>', ''],
        'video' => ['', '<video src=a>', ''],
        'svg' => ['', '<svg>', ''],
        'math' => ['', '<math>', ''],
        'select' => ['', '<select><option>', ''],
        'words' => ['', 'word ', ''],
        'sentence' => ['', 'A. ', ''],
        'one' => ['', 'x', ''],
        'nl' => ['', "\n", ''],
        'space' => ['', ' ', ''],
        'brackets' => ['', '[', ''],
        'links' => ['', '[a](b', ''],
        'links2' => ['', '[a](http://a', ''],
        'backticks' => ['', '`a', ''],
        'ticks' => ['', '`', ''],
        'stars' => ['', '*a', ''],
        'under' => ['', '_', ''],
        'paren' => ['', 'http://a(', ''],
        'www' => ['', 'www.a.test ', ''],
        'https' => ['', 'http://', ''],
        'braces' => ['', '{', ''],
        'at' => ['', '@article{a,', ''],
        'back' => ['', '\\', ''],
        'note' => ['', '[^1]', ''],
        'def' => ['', "[^1]: a\n", ''],
        'fence' => ['', "```\n", ''],
        'css' => ['', '@import url(', ''],
        'css2' => ['', 'url(', ''],
        'css3' => ['', '/*', ''],
        'css4' => ['', 'a{b:c}', ''],
        'css5' => ['', "@import 'a", ''],
        'json' => ['', '[{"URL":', ''],
        'csv' => ['', '"', ''],
        'csv2' => ['', 'a,', ''],
        'ris' => ['', "UR  - http://a\n", ''],
        'quotes' => ['', '“a” ', ''],
        'quote3' => ['', '"a" ', ''],
        'dates' => ['', 'http://a.test/ (accessed 3 Nov 2024). ', ''],
        'urls' => ['', "http://a.test/b?c=d \n", ''],
        'mdlinks' => ['', '[a](http://a.test/) ', ''],
        'hlinks' => ['', '<a href="http://a.test/">a</a> ', ''],
        'bib' => ['', "@misc{a, url={http://a.test/}}\n", ''],
        'risr' => ['', "TY  - ELEC\nUR  - http://a.test/\nER  - \n", ''],
        'cslr' => ['[', '{"URL":"http://a.test/"},', '{}]'],
        'csvr' => ['', "http://a.test/,b\n", ''],
    ];

    /** @var array<string, array{string, string, string}> the same for the text parts of office documents */
    private const OFFICE = [
        'w-urls' => ['', '<w:p><w:r><w:t>http://a.test/ </w:t></w:r></w:p>', ''],
        'w-one' => ['<w:p><w:r><w:t>', 'http://a.test/ ', '</w:t></w:r></w:p>'],
        'w-runs' => ['<w:p>', '<w:r><w:t>http://a.test/ </w:t></w:r>', '</w:p>'],
        'w-links' => [
            '<w:p>', '<w:fldSimple w:instr="HYPERLINK &quot;http://a.test/&quot;"><w:r><w:t>a</w:t></w:r></w:fldSimple>', '</w:p>',
        ],
        'w-empty' => ['', '<w:t/>', ''],
        'w-p' => ['', '<w:p/>', ''],
        'w-attrs' => ['<w:p ', 'a="b" ', '/>'],
        'w-deep' => ['', '<w:p>', ''],
        'w-com' => ['', '<!-- -->', ''],
        'w-com2' => ['', '<!--', ''],
        'w-q' => ['<w:p a=', '"', '/>'],
        'w-lt' => ['<w:p ', "'\"", ''],
        'w-amp' => ['<w:p><w:r><w:t>', '&amp;', '</w:t></w:r></w:p>'],
        'w-ampurl' => ['<w:p><w:r><w:t>', 'http://a.test/?a&amp;b ', '</w:t></w:r></w:p>'],
        't-urls' => ['', '<text:p>http://a.test/ </text:p>', ''],
        't-one' => ['<text:p>', 'http://a.test/ ', '</text:p>'],
        't-runs' => ['<text:p>', '<text:span>http://a.test/ </text:span>', '</text:p>'],
        't-links' => ['<text:p>', '<text:a xlink:href="http://a.test/">a</text:a>', '</text:p>'],
        't-s' => ['<text:p>', '<text:s/>', '</text:p>'],
        't-notes' => [
            '<text:p>',
            '<text:note><text:note-citation>1</text:note-citation><text:note-body><text:p>http://a.test/</text:p></text:note-body>'
                .'</text:note>',
            '</text:p>',
        ],
    ];

    /** @return list<string> */
    public static function names(bool $office): array
    {
        return array_keys($office ? self::OFFICE + self::MARKUP : self::MARKUP);
    }

    /** @return string of about so many bytes */
    public static function one(string $name, int $bytes, string $end = ''): string
    {
        [$before, $piece, $after] = (self::MARKUP + self::OFFICE)[$name];

        return $before.str_repeat($piece, intdiv($bytes, \strlen($piece))).$after.$end;
    }
}
