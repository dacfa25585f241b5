<?php

declare(strict_types=1);

namespace Ypomna\Core\Html;

/**
 * Drawings and formulas (HTML Living Standard, section 13.2.6.5).
 *
 * @internal
 */
final class ForeignRules
{
    /** Whether the token is read by the rules for foreign vocabularies (section 13.2.6, "tree construction dispatcher"). */
    public static function isForeign(Construction $at, Token $token): bool
    {
        $top = $at->stack->top();
        $isText = TokenKind::Text === $token->kind;
        $isStart = TokenKind::Start === $token->kind;
        if (MarkupVocabulary::Math === $top->vocabulary && isset(['mi' => 1, 'mo' => 1, 'mn' => 1, 'ms' => 1, 'mtext' => 1][$top->name])) {
            return !($isText || ($isStart && 'mglyph' !== $token->name && 'malignmark' !== $token->name));
        }
        $integrates = MarkupVocabulary::Svg === $top->vocabulary ? isset(['foreignobject' => 1, 'desc' => 1, 'title' => 1][$top->name])
            : 'annotation-xml' === $top->name
                && (('svg' === $token->name && $isStart)
                    || isset(['text/html' => 1, 'application/xhtml+xml' => 1][strtolower($top->attributes['encoding'] ?? '')]));

        return !($integrates && ($isText || $isStart));
    }

    public static function inForeign(Construction $at, Token $token): void
    {
        if (TokenKind::Text === $token->kind) {
            $at->planter->text(str_replace("\0", "\u{FFFD}", $token->text));
            $at->framesetOk = $at->framesetOk && \strlen($token->text) === strspn($token->text, Construction::SPACE."\0");
        } elseif (TokenKind::Start === $token->kind) {
            $leaves = isset(Kinds::OUT_OF_FOREIGN[$token->name])
                || ('font' === $token->name && [] !== array_intersect_key($token->attributes, ['color' => 1, 'face' => 1, 'size' => 1]));
            if ($leaves) {
                self::leaveForeign($at);
                $at->process($token);
            } else {
                $vocabulary = $at->stack->top()->vocabulary;
                $token->closesItself ? $at->planter->put($token, $vocabulary) : $at->planter->open($token, $vocabulary);
            }
        } elseif (TokenKind::End === $token->kind) {
            self::endForeign($at, $token);
        }
    }

    private static function leaveForeign(Construction $at): void
    {
        while (MarkupVocabulary::Html !== $at->stack->top()->vocabulary) {
            $top = $at->stack->top();
            if (Kinds::isForeignBound($top) && 'annotation-xml' !== $top->name) {
                return;
            }
            $at->stack->pop();
        }
    }

    private static function endForeign(Construction $at, Token $token): void
    {
        if ('br' === $token->name || 'p' === $token->name) {
            self::leaveForeign($at);
            $at->process($token);

            return;
        }
        for ($i = $at->stack->count() - 1; $i > 0; --$i) {
            $one = $at->stack->at($i);
            if (MarkupVocabulary::Html === $one->vocabulary) {
                $at->process($token);

                return;
            }
            if ($one->name === $token->name) {
                $at->stack->cut($i);

                return;
            }
        }
    }
}
