<?php

declare(strict_types=1);

namespace Ypomna\Core\Completeness;

use Ypomna\Core\Address\Url;
use Ypomna\Core\Page\Requisite;
use Ypomna\Core\Page\RequisiteKind;
use Ypomna\Core\Page\Requisites;

/** A part that a page refers to, with its addresses resolved. */
final readonly class RequestedPart
{
    /**
     * @param non-empty-list<string> $any addresses of which any one will do, without fragments
     * @param bool $perhaps whether the page does without it if it makes no use of it
     * @param bool $print whether only paper would show it
     */
    public function __construct(public array $any, public GapKind $kind, public bool $perhaps, public bool $print = false)
    {
    }

    /**
     * What a document asks for.
     *
     * @param string $html UTF-8
     *
     * @return list<self>
     */
    public static function ofHtml(string $html, Url $url): array
    {
        [$base, $all] = Requisites::all($html);

        return self::resolved($all, (null === $base ? null : Url::tryParse($base, $url)) ?? $url);
    }

    /**
     * What a style sheet may ask for.
     *
     * @return list<self>
     */
    public static function ofStyle(string $css, Url $url): array
    {
        return self::resolved(Requisites::inStyle($css), $url);
    }

    /**
     * @param list<Requisite> $requisites
     *
     * @return list<self>
     */
    private static function resolved(array $requisites, Url $base): array
    {
        $wanted = [];
        foreach ($requisites as $one) {
            $any = [];
            foreach ($one->any as $reference) {
                $url = Url::tryParse($reference, $base);
                if (str_starts_with(ltrim($reference), 'data:')) {
                    // One that needs no network will do.
                    continue 2;
                }
                if (null === $url || !$url->isWeb()) {
                    continue;
                }
                $any[] = (string) $url->withoutFragment();
            }
            if ([] !== $any) {
                $wanted[] = new self(
                    array_values(array_unique($any)), GapKind::wanted($one->kind), $one->perhaps, RequisiteKind::Print === $one->kind,
                );
            }
        }

        return $wanted;
    }
}
