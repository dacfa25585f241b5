<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Ypomna\Standin\Web\Request;
use Ypomna\Standin\Web\Response;

/** Something that a server does with an address, and what a reader would say of it. */
final readonly class Scene
{
    /**
     * @param string $expected verdict and reason
     * @param string|null $held the page as it was, in HTML
     * @param (\Closure(Request): Response)|null $act null: the name has no address
     */
    public function __construct(public string $expected, public string $url, public ?string $held, public ?\Closure $act)
    {
    }
}
