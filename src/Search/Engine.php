<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Ypomna\App\Search\Value\EngineAnswer;
use Ypomna\App\Search\Value\EngineQuestion;
use Ypomna\App\Search\Value\IndexedText;
use Ypomna\App\Search\Value\Standing;

/** An index of words. What is in it can be made again from files and tables at any time. */
interface Engine
{
    /** Whether it can be asked now. */
    public function isThere(): bool;

    /**
     * @return bool whether it was made anew: it holds nothing yet
     *
     * @throws EngineIsAway if it cannot be made
     */
    public function prepare(): bool;

    /** Throws it away, as when it is damaged; {@see prepare()} makes it anew, empty. */
    public function forget(): void;

    /**
     * Very much is to come: it is put into order when {@see release()} says that all is there, which takes a fraction of the time. Until
     * then asking is slow, or refused.
     */
    public function hold(): void;

    /** What was held, by this process or by one that was killed over it, is put into order. */
    public function release(): void;

    /** @param list<IndexedText> $texts in place of those of the same numbers */
    public function put(array $texts): void;

    public function stands(int $text, Standing $standing): void;

    /**
     * Their pages have other texts now.
     *
     * @param list<int> $texts
     */
    public function notAlone(array $texts): void;

    /** What checks of an address say now. */
    public function state(int $address, string $state): void;

    /** @param list<int> $texts */
    public function drop(array $texts): void;

    /**
     * The words of texts, as they were put in.
     *
     * @param list<int> $texts
     *
     * @return array<int, array<string, string>> by number and column
     */
    public function words(array $texts): array;

    public function clear(): void;

    /** @throws EngineIsAway */
    public function ask(EngineQuestion $question): EngineAnswer;

    /**
     * In how many addresses or items it stands.
     *
     * @throws EngineIsAway
     */
    public function subjects(EngineQuestion $question): int;
}
