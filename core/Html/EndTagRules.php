<?php

declare(strict_types=1);

namespace Ypomna\Core\Html;

/**
 * End tags in the body (HTML Living Standard, section 13.2.6.4.7).
 *
 * @internal
 */
final class EndTagRules
{
    public static function endInBody(Construction $at, Token $token): void
    {
        $name = $token->name;
        if ('template' === $name) {
            $at->endTemplate();
        } elseif ('body' === $name || 'html' === $name) {
            if ($at->stack->has('body')) {
                $at->mode = Mode::AfterBody;
            }
        } elseif ('form' === $name) {
            self::endForm($at);
        } elseif ('p' === $name) {
            if (!$at->stack->has('p', Kinds::BUTTON_SCOPE)) {
                $at->planter->open(new Token(TokenKind::Start, 'p'));
            }
            BodyRules::closeParagraph($at);
        } elseif ('br' === $name) {
            BodyRules::void($at, new Token(TokenKind::Start, 'br'));
        } elseif ('li' === $name || 'dd' === $name || 'dt' === $name) {
            self::close($at, $name, [$name => 1], 'li' === $name ? Kinds::LIST_SCOPE : Kinds::SCOPE);
        } elseif (isset(Kinds::HEADINGS[$name])) {
            self::close($at, '', Kinds::HEADINGS, Kinds::SCOPE);
        } elseif (isset(Kinds::BLOCKS[$name])) {
            self::close($at, '', [$name => 1], Kinds::SCOPE);
        } elseif ('applet' === $name || 'marquee' === $name || 'object' === $name) {
            if ($at->stack->has($name, array_diff_key(Kinds::SCOPE, [$name => 1]))) {
                $at->stack->popUntil([$name => 1]);
                $at->planter->clearToMarker();
            }
        } elseif (!isset(Kinds::FORMATTING[$name]) || !$at->planter->adopt($name)) {
            self::endOrdinary($at, $name);
        }
    }

    /**
     * @param array<string, int> $names
     * @param array<string, int> $bounds
     */
    private static function close(Construction $at, string $but, array $names, array $bounds): void
    {
        // An element may be a bound of its own scope.
        if ($at->stack->hasAny($names, $bounds)) {
            $at->stack->closeImplied($but);
            $at->stack->popUntil($names);
        }
    }

    private static function endForm(Construction $at): void
    {
        if (null !== $at->stack->lastPlace('template')) {
            self::close($at, '', ['form' => 1], Kinds::SCOPE);

            return;
        }
        $form = $at->form;
        $at->form = null;
        if (null !== $form && null !== $at->stack->placeOf($form) && $at->stack->has('form')) {
            $at->stack->closeImplied();
            $at->planter->flushText();
            $at->stack->remove($form);
        }
    }

    private static function endOrdinary(Construction $at, string $name): void
    {
        for ($i = $at->stack->count() - 1; $i > 0; --$i) {
            $one = $at->stack->at($i);
            if ($one->isHtml($name)) {
                $at->stack->closeImplied($name);
                $at->stack->cut(min($i, $at->stack->count()));

                return;
            }
            if (Kinds::isSpecial($one)) {
                return;
            }
        }
    }
}
