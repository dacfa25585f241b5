<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Search;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Search\Clause;
use Ypomna\Core\Search\Find;
use Ypomna\Core\Search\Finds;
use Ypomna\Core\Search\Folding;
use Ypomna\Core\Search\Part;
use Ypomna\Core\Search\Piece;
use Ypomna\Core\Search\Question;
use Ypomna\Core\Search\Ranking;
use Ypomna\Core\Search\Spelling;
use Ypomna\Core\Search\Stemmer;
use Ypomna\Core\Search\Wanted;
use Ypomna\Core\Search\Writing;

final class FindsTest extends TestCase
{
    public function testFindsAreWhereTheyStand(): void
    {
        $text = 'The Grey seal saw a grey, seal-like DOOR. Doors were grey: seal them.';
        $stands = static fn (string $asked): array => array_map(
            static fn (Find $find): string => substr($text, $find->from, $find->to - $find->from), self::finds($asked)->in($text),
        );
        self::assertSame(['Grey seal', 'grey, seal', 'grey: seal'], $stands('"grey seal"'));
        self::assertSame(['DOOR'], $stands('door'));
        self::assertSame(['DOOR', 'Doors'], $stands('door*'));
        self::assertSame([], $stands('"seal grey"'));
        self::assertSame(['天気'], array_map(
            static fn (Find $find): string => substr('東京の天気です', $find->from, $find->to - $find->from),
            self::finds('天気')->in('東京の天気です'),
        ));
    }

    #[DataProvider('texts')]
    public function testFindsThatAreKnownAmongTheWordsAreWhereTheyStand(string $text, string $asked): void
    {
        $finds = self::finds($asked);
        $known = $finds->inWords(implode(' ', Folding::words($text)));
        $there = $finds->in($text);
        self::assertNotSame([], $there);
        self::assertEquals($there, $finds->where($text, $known));
        self::assertEquals(
            array_map(static fn (Find $find): array => [$find->clause, $find->word, $find->form, $find->isExact], $there),
            array_map(static fn (Find $find): array => [$find->clause, $find->word, $find->form, $find->isExact], $known),
        );
    }

    /** @return iterable<string, array{string, string}> */
    public static function texts(): iterable
    {
        yield 'words' => ['The Grey seal saw a grey, seal-like DOOR.', 'grey seal'];
        yield 'signs that are no words' => ["grey \u{00AD} \u{200B} the\u{00AD}grey \u{0301} SE\u{0301}AL grey", 'seal grey'];
        yield 'a word that comes to nothing, and the same word twice' => ["\u{200D} grey grey", 'grey'];
        yield 'other scripts' => ['Οι ΘΆΛΑΣΣΕΣ του κόσμου, θάλασσες', 'θαλασσεσ'];
        yield 'pairs' => ['東京の天気 weather 天気', '天気 weather'];
        yield 'phrases' => ['a grey seal, grey', '"grey seal" grey'];
        yield 'beginnings' => ['Doors and a door', 'doo*'];
        yield 'long' => [str_repeat('nothing here ', 8_000).'seal', 'seal'];
    }

    public function testWhatIsCutOutSaysWhereItIsMarked(): void
    {
        $text = str_repeat('Vörher steht vieles. ', 20).'Dann kommt die Straße zum Hafen'.str_repeat(' und noch mehr', 40);
        [$cut, $marks] = Finds::cut($text, self::finds('strasse hafen')->in($text));
        self::assertStringStartsWith('… ', $cut);
        self::assertStringEndsWith(' …', $cut);
        self::assertLessThan(260, mb_strlen($cut));
        self::assertSame(['Straße', 'Hafen'], array_map(
            static fn (array $mark): string => mb_substr($cut, $mark[0], $mark[1] - $mark[0]), $marks,
        ));
        self::assertSame(['whole', [[0, 5]]], Finds::cut('whole', self::finds('whole')->in('whole')));
    }

    public function testADocumentIsTakenInPieces(): void
    {
        $writing = Writing::ofDocument(Document::fromHtml(
            '<html lang="en-GB"><title>Notice</title><nav>Home</nav><main><h1>The stern <b>door</b></h1><p>It leaks. A lot.</p>'
                .'<img alt="gulls above" src=x><details><summary>More</summary>closed words</details><p hidden>secret</p></main>'
                .'<footer>Imprint</footer>', 'text/html; charset=utf-8', 'http://lantern.test/',
        ));
        self::assertSame([
            [Part::Title, 'Notice'], [Part::Rest, 'Home'], [Part::Heading, 'The stern door'], [Part::Main, 'It leaks. A lot.'],
            [Part::Main, 'gulls above'], [Part::Main, 'More'], [Part::Main, 'closed words'], [Part::Rest, 'Imprint'],
        ], array_map(static fn (Piece $piece): array => [$piece->part, $piece->text], $writing->pieces));
        self::assertSame('en', $writing->language);
        $again = $writing->about(['Why I kept it', '']);
        self::assertNotSame($writing->digest(), $again->digest());
        self::assertEquals($again->pieces, Writing::unpack($again->pack()));
        self::assertSame('it leaks a lot . gulls above . more . closed words', $again->words(Part::Main));
        self::assertSame(['it leaks a lot', 'gulls above', 'more', 'closed words'], Writing::segments($again->words(Part::Main)));
        $odd = new Writing([new Piece(Part::Main, 'a'), new Piece(Part::Main, '–'), new Piece(Part::Main, 'b')], null);
        self::assertSame(['a', '.', 'b'], Writing::segments($odd->words(Part::Main)), 'Each piece has its place.');
        self::assertSame([], Writing::segments($odd->words(Part::Title)));
        self::assertSame([], Writing::unpack('rubbish'));
    }

    public function testNearWordsTitlesAndExactFormsCount(): void
    {
        $near = self::score('grey seal', [[Part::Main, 'A grey old seal swam.']]);
        $far = self::score('grey seal', [[Part::Main, 'A grey sky. '.str_repeat('rain ', 50).'A seal swam.']]);
        $apart = self::score('grey seal', [[Part::Main, 'A grey sky.'], [Part::Main, 'A seal swam.']]);
        $title = self::score('grey seal', [[Part::Title, 'Grey seal'], [Part::Main, 'A grey old seal swam.']]);
        $around = self::score('grey seal', [[Part::Rest, 'A grey old seal swam.']]);
        self::assertGreaterThan($far, $near);
        self::assertGreaterThanOrEqual($apart, $far);
        self::assertGreaterThan($near, $title);
        self::assertGreaterThan($around, $near);
        self::assertGreaterThan(self::score('door', [[Part::Main, 'Two doors']]), self::score('door', [[Part::Main, 'One door']]));
        // Beside the text they stand next to each other, in it anywhere: that is less than next to each other in it.
        $beside = self::score('grey seal', [[Part::Main, 'Of a seal.'], [Part::Main, 'All grey.'], [Part::Rest, 'The grey seal']]);
        self::assertGreaterThan($beside, $near);
        self::assertGreaterThan(self::score('grey seal', [[Part::Main, 'Of a seal.'], [Part::Main, 'All grey.']]), $beside);
        self::assertSame(2, Ranking::span((new Finds(self::wanted('grey seal')))->in('grey x seal grey y z seal'), 2));
    }

    public function testStemsAndSpelling(): void
    {
        if (Stemmer::isThere()) {
            self::assertSame(Stemmer::stem('en', 'ferry'), Stemmer::stem('en', 'ferries'));
            self::assertSame(Stemmer::stem('el', 'θαλασσα'), Stemmer::stem('el', 'θαλασσεσ'));
            self::assertSame(Stemmer::stem('ru', 'книга'), Stemmer::stem('ru', 'книги'));
            self::assertSame(Stemmer::stem('es', 'calamar'), Stemmer::stem('es', 'calamares'));
            self::assertSame(Stemmer::stem('de', 'ersatzbus'), Stemmer::stem('de', 'ersatzbusse'));
            self::assertSame(Stemmer::stem('sv', 'klocka'), Stemmer::stem('sv', 'klockan'));
            self::assertSame(Stemmer::stem('sv', 'kapell'), Stemmer::stem('sv', 'kapellet'));
            self::assertNotSame(Stemmer::stem('en', 'port'), Stemmer::stem('en', 'portion'));
        }
        self::assertSame('quux', Stemmer::stem('xx', 'quux'));
        self::assertSame(0, Spelling::distance('ferry', 'ferry', 2));
        self::assertSame(1, Spelling::distance('ferry', 'frery', 2), 'Two that changed places are one mistake.');
        self::assertSame(1, Spelling::distance('ferry', 'fery', 2));
        self::assertSame(2, Spelling::distance('θαλασσα', 'θαλσα', 2));
        self::assertNull(Spelling::distance('ferry', 'harbour', 2));
        self::assertSame([0, 1, 2], array_map(Spelling::allowed(...), ['ab', 'ferry', 'harbour']));
    }

    /** @param list<array{Part, string}> $pieces */
    private static function score(string $asked, array $pieces): float
    {
        $wanted = self::wanted($asked);
        $found = [];
        foreach ($pieces as [$part, $text]) {
            $finds = (new Finds($wanted))->in($text);
            if ([] !== $finds) {
                $found[] = [$part, $finds];
            }
        }

        return Ranking::of($found, \count($wanted))->score;
    }

    /** @return list<Wanted> */
    private static function wanted(string $asked): array
    {
        return array_map(static fn (Clause $clause): Wanted => new Wanted(
            $clause, $clause->isInflected() ? [$clause->words[0], $clause->words[0].'s'] : [],
        ), Question::of($asked)->wanted());
    }

    private static function finds(string $asked): Finds
    {
        return new Finds(array_map(static fn (Clause $clause): Wanted => new Wanted(
            $clause, $clause->isInflected() ? [$clause->words[0]] : [],
        ), Question::of($asked)->wanted()));
    }
}
