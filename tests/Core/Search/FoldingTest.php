<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Search;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Search\Folding;
use Ypomna\Core\Search\Token;

final class FoldingTest extends TestCase
{
    /** @param list<string> $words */
    #[DataProvider('texts')]
    public function testWhatDoesNotCountIsTakenAway(string $text, array $words): void
    {
        self::assertSame($words, Folding::words($text));
        self::assertSame($words, array_map(
            static fn (Token $token): string => $token->word, iterator_to_array(Folding::tokens($text), false),
        ));
    }

    /** @return iterable<string, array{string, list<string>}> */
    public static function texts(): iterable
    {
        yield 'nothing' => ['', []];
        yield 'signs alone' => ['… – * "', []];
        yield 'case and accents' => ['ÉTÉ été Été', ['ete', 'ete', 'ete']];
        yield 'accents that stand by themselves' => ["e\u{0301}te\u{0301}", ['ete']];
        yield 'German' => ['STRASSE Straße straße', ['strasse', 'strasse', 'strasse']];
        yield 'ligatures' => ['ﬁnal Œuvre Æsop', ['final', 'oeuvre', 'aesop']];
        yield 'width' => ['ｗｉｄｅ １２', ['wide', '12']];
        yield 'Greek' => ['ΘΆΛΑΣΣΑΣ θάλασσας', ['θαλασσασ', 'θαλασσασ']];
        yield 'Russian' => ['Ёлка елка йод', ['елка', 'елка', 'йод']];
        yield 'Turkish' => ['İSTANBUL ılık', ['istanbul', 'ilik']];
        yield 'Arabic' => ['السَّلامُ أحمد مـــد', ['السلام', 'احمد', 'مد']];
        yield 'Hebrew' => ['שָׁלוֹם', ['שלום']];
        yield 'Hindi keeps its vowels' => ['हिन्दी में', ['हिन्दी', 'में']];
        yield 'what joins words' => ['don’t co-op x_y 40,000', ['don', 't', 'co', 'op', 'x', 'y', '40', '000']];
        yield 'soft hyphens' => ["centi\u{00AD}metres", ['centimetres']];
        yield 'Chinese' => ['漢字文', ['漢字', '字文', '文']];
        yield 'Japanese beside others' => ['東京2号x', ['東京', '京', '2', '号', 'x']];
        yield 'Korean' => ['서울에서', ['서울', '울에', '에서', '서']];
        yield 'Thai keeps letters and signs together' => ['ที่นี่', ['ที่นี่', 'นี่']];
    }

    public function testTokensSayWhereTheyStand(): void
    {
        foreach (self::texts() as [$text]) {
            $behind = 0;
            foreach (Folding::tokens($text) as $token) {
                self::assertLessThan($token->to, $token->from);
                self::assertLessThanOrEqual($token->from, $behind - ('' === $text ? 0 : $behind - $token->from));
                self::assertTrue(mb_check_encoding(substr($text, $token->from, $token->to - $token->from), 'UTF-8'));
                $behind = $token->to;
            }
        }
        [$first, $second] = iterator_to_array(Folding::tokens('ein Straßenlärm'), false);
        self::assertSame('Straßenlärm', substr('ein Straßenlärm', $second->from, $second->to - $second->from));
        self::assertSame(0, $first->from);
    }

    public function testAWordOfAMegabyteIsCut(): void
    {
        $words = Folding::words(str_repeat('x', 1_000_000).' '.str_repeat('ä', 500_000));
        self::assertSame([str_repeat('x', Folding::LONGEST), str_repeat('a', Folding::LONGEST)], $words);
    }

    public function testNoBytesBreakIt(): void
    {
        mt_srand(21);
        for ($i = 0; $i < 2_000; ++$i) {
            $text = '';
            for ($n = mt_rand(0, 30); $n > 0; --$n) {
                $text .= mt_rand(0, 3) > 0 ? (string) mb_chr(mt_rand(1, 0xD7FF)) : \chr(mt_rand(0, 255));
            }
            foreach (Folding::words(mb_scrub($text)) as $word) {
                self::assertMatchesRegularExpression('/^[\p{L}\p{M}\p{N}]+$/Du', $word, bin2hex($text));
                if (!Folding::isPaired($word)) {
                    self::assertSame([$word], Folding::words($word), bin2hex($text));
                }
            }
        }
    }
}
