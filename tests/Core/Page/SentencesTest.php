<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Page;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Page\Sentences;

final class SentencesTest extends TestCase
{
    /** @param list<string> $sentences */
    #[DataProvider('texts')]
    public function testSentencesEndWhereAReaderSeesThemEnd(array $sentences, string $between = ' '): void
    {
        self::assertSame($sentences, Sentences::of(implode($between, $sentences)));
    }

    /**
     * @return iterable<string, array{0: list<string>, 1?: string}>
     */
    public static function texts(): iterable
    {
        yield 'nothing' => [[]];
        yield 'titles and times' => [['Mr. Calder met Dr. Sato at 5 p.m. on Monday.', 'He left.']];
        yield 'numbers' => [['See No. 4 and Fig. 3 on p. 12.', 'It cost 3.50 crowns.', 'Then 1.5 more.']];
        yield 'a no that is none' => [['He said no.', 'Then he left.']];
        yield 'initials' => [['It was J. R. Marlow who signed.', 'Edda M. Marlow agreed.']];
        yield 'a plan' => [['They chose Plan B.', 'Then they sailed.']];
        yield 'what was said' => [['He said “No.”', 'Then he left.', '“Go!” she cried.', 'They went.']];
        yield 'German' => [['Am 3. Mai kam sie z. B. um 9 Uhr an.', 'Die Nr. 5 fehlte.', 'Es waren drei.']];
        yield 'French' => [['M. Dupont est là.', 'Elle vient.']];
        yield 'Greek' => [['Πού είναι;', 'Ο κ. Λάγος ήρθε.', 'Έφυγε.']];
        yield 'Japanese' => [['船は九時に出ます。', '遅れません！', '本当？'], ''];
        yield 'Arabic' => [['هل وصلت السفينة؟', 'نعم.', 'وصلت.']];
        yield 'Russian' => [['Паром вышел в 9:15.', 'Билеты стоят 5 крон!']];
        yield 'an address' => [['Visit lantern.test or write to us.', 'Thanks.']];
    }

    public function testNothingOfATextIsLost(): void
    {
        mt_srand(5);
        $pieces = ['Dr. ', 'A. ', 'no. ', '3. ', 'Mai ', '“x!” ', 'word ', '。', '؟ ', '… ', 'z. B. ', '? ', "\u{A0}", 'é', '('];
        for ($round = 0; $round < 300; ++$round) {
            $text = '';
            for ($i = mt_rand(1, 25); $i > 0; --$i) {
                $text .= $pieces[mt_rand(0, \count($pieces) - 1)];
            }
            $text = trim($text);
            self::assertSame(preg_replace('/\s+/u', '', $text), preg_replace('/\s+/u', '', implode('', Sentences::of($text))));
        }
    }
}
