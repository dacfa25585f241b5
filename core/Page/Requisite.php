<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

/** A part that a document or a style asks for. */
final readonly class Requisite
{
    /**
     * @param non-empty-list<string> $any as it is written; any one will do
     * @param bool $perhaps whether it is asked for only if the page makes use of it
     */
    public function __construct(public RequisiteKind $kind, public array $any, public bool $perhaps = false)
    {
    }
}
