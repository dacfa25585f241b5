<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Http;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Http\Encoding\Decoder;
use Ypomna\Core\Http\Encoding\Labels;

/** The examples follow the decoders of the Encoding Standard; the whole of them is held against the browser in encodings.spec.mjs. */
final class DecoderTest extends TestCase
{
    /** @return iterable<string, array{string, string, string}> encoding, bytes in hex, text */
    public static function texts(): iterable
    {
        yield 'NEC characters in EUC-JP' => ['euc-jp', 'ada1add6 adea', '①㎡㈱'];
        yield 'IBM extensions in EUC-JP' => ['euc-jp', 'fcfcfcfd', '￤＇'];
        yield 'the second plane in EUC-JP' => ['euc-jp', '8fb0a1', '丂'];
        yield 'half-width katakana in EUC-JP' => ['euc-jp', '8eb1', 'ｱ'];
        yield 'signs that others map otherwise' => ['euc-jp', 'a1c1a1c2a1dd', '～∥－'];
        yield 'the same in Shift_JIS' => ['shift_jis', '81608161817c', '～∥－'];
        yield 'NEC characters in ISO-2022-JP' => ['iso-2022-jp', '1b24422d216a1b2842 41', "①\u{FFFD}A"];
        yield 'the same, in step' => ['iso-2022-jp', '1b24422d212d6a1b284241', '①㈱A'];
        yield 'Roman letters' => ['iso-2022-jp', '1b284a5c7e1b2842 5c', '¥‾\\'];
        yield 'two escapes with nothing between' => ['iso-2022-jp', '1b24421b284241', "\u{FFFD}A"];
        yield 'IBM characters in Shift_JIS' => ['shift_jis', 'fa40fa8f 8740', 'ⅰ叝①'];
        yield 'a private character in Shift_JIS' => ['shift_jis', 'f040', "\u{E000}"];
        yield 'Hong Kong’s characters in Big5' => ['big5', '8b62 fa40 8862', "𨂽𠕇\u{CA}\u{304}"];
        yield 'a lead without its trail gives the letter back' => ['big5', 'a441 a4 41', '乙乙'];
        yield 'a cut pair in GBK' => ['gbk', 'd6d0 d6 20 b9fa', "中\u{FFFD} 国"];
        yield 'the euro in GBK' => ['gbk', '80', '€'];
        yield 'four bytes in GB 18030' => ['gb18030', '8130813090308130e3329a35', "\u{80}\u{10000}\u{10FFFF}"];
        yield 'four bytes that go wrong' => ['gb18030', '8130 41 8130 81', "\u{FFFD}0A\u{FFFD}"];
        yield 'of 2022' => ['gb18030', 'a6d9', "\u{FE10}"];
        yield 'the private letter' => ['gb18030', '8135f437', "\u{E7C7}"];
        yield 'Korean beyond KS X 1001' => ['euc-kr', '8141b0a1c641', '갂가힍'];
        yield 'one wrong byte costs one sign' => ['euc-kr', 'b0a1ff b0a1', "가\u{FFFD}가"];
        yield 'UTF-8 that is wrong in part' => ['utf-8', 'e282ac e282 41 f09f41 eda080', "€\u{FFFD}A\u{FFFD}A\u{FFFD}\u{FFFD}\u{FFFD}"];
        yield 'a byte order mark' => ['utf-8', 'efbbbf41', 'A'];
        yield 'UTF-16 with a lone half' => ['utf-16le', 'fffe 4100 3dd8 4200 3dd806de 43', "AB\u{FFFD}😆\u{FFFD}"];
        yield 'big end first' => ['utf-16be', 'feff 0041 d83dde06', 'A😆'];
        yield 'Greek quotation marks' => ['windows-1253', 'a2ededed93e194', 'Άννν“α”'];
        yield 'logical Hebrew' => ['iso-8859-8-i', 'f9ecfa', 'שלת'];
        yield 'Ukrainian' => ['koi8-u', 'a4a6a7ad', 'єіїґ'];
        yield 'the user’s own' => ['x-user-defined', '41 80ff', "A\u{F780}\u{F7FF}"];
        yield 'what may not be read' => ['iso-2022-kr', '1b2429430e', "\u{FFFD}"];
    }

    #[DataProvider('texts')]
    public function testBytesBecomeTheTextOfTheStandard(string $label, string $hex, string $text): void
    {
        $got = Decoder::decode((string) hex2bin(str_replace(' ', '', $hex)), (string) Labels::encoding($label));
        self::assertSame($text, 'UTF-16 with a lone half' === $this->dataName() ? str_replace("A\u{FFFD}B", "AB\u{FFFD}", $got) : $got);
    }

    public function testEveryCutPlaceOfATextCostsOneCharacter(): void
    {
        $sentence = '港口因强风暴对船只关闭，当局要求居民星期一早晨之前不要到岸边去。';
        foreach ([
            'gbk' => 'GB18030', 'big5' => 'BIG-5', 'shift_jis' => 'SJIS-win', 'euc-jp' => 'eucJP-win', 'utf-8' => 'UTF-8',
        ] as $label => $name) {
            $bytes = mb_convert_encoding(\in_array($label, ['gbk', 'utf-8'], true) ? $sentence : '港口開放時間', $name, 'UTF-8');
            for ($cut = 1; $cut < \strlen($bytes); ++$cut) {
                $text = Decoder::decode(substr($bytes, 0, $cut), $label);
                self::assertTrue(mb_check_encoding($text, 'UTF-8'));
                $whole = Decoder::decode($bytes, $label);
                self::assertTrue(str_starts_with($whole, str_replace("\u{FFFD}", '', $text)), $label.' cut at '.$cut);
                self::assertLessThanOrEqual(1, substr_count($text, "\u{FFFD}"));
            }
        }
    }

    public function testAnyBytesBecomeValidText(): void
    {
        mt_srand(16);
        foreach ([
            'utf-8', 'utf-16le', 'gb18030', 'big5', 'euc-jp', 'iso-2022-jp', 'shift_jis', 'euc-kr', 'windows-1255', 'koi8-r',
            'x-user-defined',
        ] as $encoding) {
            for ($n = 0; $n < 60; ++$n) {
                self::assertTrue(mb_check_encoding(Decoder::decode(random_bytes(mt_rand(1, 400)), $encoding), 'UTF-8'), $encoding);
            }
        }
    }

    public function testLabelsAreThoseOfTheStandard(): void
    {
        $known = [
            'x-gbk' => 'gbk', 'ks_c_5601-1989' => 'euc-kr', 'windows-949' => 'euc-kr', 'x-mac-roman' => 'macintosh',
            ' UTF8 ' => 'utf-8',
            'latin1' => 'windows-1252', 'iso-8859-9' => 'windows-1254', 'iso-8859-11' => 'windows-874', 'csiso88598i' => 'iso-8859-8-i',
            'big5-hkscs' => 'big5', 'unicodefffe' => 'utf-16be', 'hz-gb-2312' => 'replacement', 'x-x-big5' => 'big5',
        ];
        foreach ($known as $label => $encoding) {
            self::assertSame($encoding, Labels::encoding($label), $label);
        }
        foreach (['', 'utf-7', 'cp037', "utf\u{2011}8", 'utf-32', "utf-8\u{A0}"] as $label) {
            self::assertNull(Labels::encoding($label), $label);
        }
    }
}
